import { useEffect, useState } from "react";

/** A change is taken over this long after the last key, or when the field is left. */
const COMMIT_AFTER_MS = 250;

interface Draft {
  text: string;
  /** The value that was being typed over. */
  over: string;
  /** What was handed on and has not come back as the value yet. */
  sent: string | null;
}

/**
 * A field's text as it is typed, handed on a moment after the last key: so a word is one change and one step to undo.
 * What is typed stays in the field until it comes back as the value; a change from outside (an undo, say) replaces it.
 */
export function useTyped(value: string, commit: (text: string) => void) {
  const [draft, setDraft] = useState<Draft | null>(null);
  if (draft !== null && draft.sent === value)
    setDraft(draft.text === value ? null : { text: draft.text, over: value, sent: null });
  const isCurrent = draft !== null && (draft.over === value || draft.sent === value);
  const flush = () => {
    if (!isCurrent || draft.text === (draft.sent ?? draft.over)) return;
    setDraft({ ...draft, sent: draft.text });
    commit(draft.text);
  };
  useEffect(() => {
    const timer = setTimeout(flush, COMMIT_AFTER_MS);
    return () => clearTimeout(timer);
  });
  return {
    value: isCurrent ? draft.text : value,
    onChange: ({ target: { value: text } }: { target: { value: string } }) =>
      setDraft(isCurrent ? { ...draft, text } : { text, over: value, sent: null }),
    onBlur: flush,
  };
}
