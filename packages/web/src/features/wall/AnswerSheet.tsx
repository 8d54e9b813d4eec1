import type { HandAnswer, Wall } from "@tourney/core/contract";
import type * as z from "zod";
import { useState } from "react";
import { toast } from "sonner";
import { useAddHandAnswerMutation } from "../../api/wall-api.js";
import { Button, Field, TextArea } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";

/** The cell that an answer is for, and what was pasted or dropped on it. */
export interface AnswerTarget {
  prompt: Pick<Wall["prompts"][number], "key" | "title">;
  entrant: Pick<Wall["entrants"][number], "key" | "name">;
  take: number;
  text: string;
}

/** What is known of an answer besides its text, as it is typed. */
const NOTHING_KNOWN = { turn: "", inputTokens: "", outputTokens: "", minutes: "", costUsd: "", reportedModel: "" };
type Known = typeof NOTHING_KNOWN;

/** What was filled in; the server says what is wrong with it. */
const describeKnown = ({ reportedModel, ...numbers }: Known): Partial<z.input<typeof HandAnswer>> => ({
  ...Object.fromEntries(
    Object.entries(numbers).flatMap(([key, text]) => (text.trim() === "" ? [] : [[key, Number(text)]])),
  ),
  ...(reportedModel.trim() === "" ? {} : { reportedModel }),
});

const KNOWN_FIELDS: readonly [keyof Known, label: string, hint: string][] = [
  ["inputTokens", "Input tokens", ""],
  ["outputTokens", "Output tokens", "reasoning included"],
  ["minutes", "Minutes", "until it was whole"],
  ["costUsd", "Cost in US dollars", ""],
  ["reportedModel", "Model that answered", "as it names itself"],
  ["turn", "Turn", "of a prompt with follow-up requests"],
];

function KnownFields({ known, onChange }: { known: Known; onChange: (known: Known) => void }) {
  return (
    <details className="mt-2">
      <summary className="cursor-pointer font-semibold">What else is known of it</summary>
      <div className="mt-2 grid grid-cols-3 gap-x-4 gap-y-1">
        {KNOWN_FIELDS.map(([key, label, hint]) => (
          <Field
            key={key}
            label={label}
            hint={hint}
            inputMode={key === "reportedModel" ? "text" : "decimal"}
            value={known[key]}
            onChange={(event) => onChange({ ...known, [key]: event.target.value })}
          />
        ))}
      </div>
    </details>
  );
}

/** Takes in an answer that was fetched by hand; it goes through the same extraction and recording as any other. */
export function AnswerSheet({
  editionId,
  target,
  onClose,
}: {
  editionId: string;
  target: AnswerTarget;
  onClose: () => void;
}) {
  const [text, setText] = useState(target.text);
  const [known, setKnown] = useState(NOTHING_KNOWN);
  const [addAnswer, { isLoading, error }] = useAddHandAnswerMutation();
  const submit = async () => {
    const result = await addAnswer({
      editionId,
      promptKey: target.prompt.key,
      entrantKey: target.entrant.key,
      take: target.take,
      text,
      ...describeKnown(known),
    });
    if (!result.data) return;
    toast.success(
      result.data.verdict === "ok"
        ? "Taken. It is being recorded."
        : `Taken, but: ${result.data.verdict.replace("_", " ")}.`,
    );
    onClose();
  };
  return (
    <Sheet
      title={`${target.prompt.title}, ${target.entrant.name}`}
      description={`An answer by hand, take ${target.take}. Paste the whole answer as it came, prose and all.`}
      open
      onOpenChange={(open) => (open ? undefined : onClose())}
    >
      {error ? <ErrorNotice error={error} /> : null}
      <TextArea
        label="Answer"
        mono
        rows={18}
        value={text}
        spellCheck={false}
        onChange={(event) => setText(event.target.value)}
      />
      <KnownFields known={known} onChange={setKnown} />
      <div className="mt-3 flex justify-end">
        <Button tone="primary" disabled={text.trim() === "" || isLoading} onClick={() => void submit()}>
          {isLoading ? "Taking it in …" : "Take it in"}
        </Button>
      </div>
    </Sheet>
  );
}
