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
  const isOf = (one: Draft | null): one is Draft => one !== null && (one.over === value || one.sent === value);
  const isCurrent = isOf(draft);
  const flush = () => {
    if (!isCurrent || draft.text === (draft.sent ?? draft.over)) return;
    setDraft((now) => now && { ...now, sent: draft.text });
    commit(draft.text);
  };
  useEffect(() => {
    const timer = setTimeout(flush, COMMIT_AFTER_MS);
    return () => clearTimeout(timer);
  });
  return {
    value: isCurrent ? draft.text : value,
    // A key can come when something was handed on and is not drawn yet: the draft is then another than the one drawn.
    onChange: ({ target: { value: text } }: { target: { value: string } }) =>
      setDraft((now) => (isOf(now) ? { ...now, text } : { text, over: value, sent: null })),
    onBlur: flush,
  };
}
