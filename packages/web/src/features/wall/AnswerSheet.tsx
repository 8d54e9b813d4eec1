import type { Wall } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useAddHandAnswerMutation } from "../../api/wall-api.js";
import { Button, TextArea } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";

/** The cell that an answer is for, and what was pasted or dropped on it. */
export interface AnswerTarget {
  prompt: Pick<Wall["prompts"][number], "key" | "title">;
  entrant: Pick<Wall["entrants"][number], "key" | "name">;
  take: number;
  text: string;
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
  const [addAnswer, { isLoading, error }] = useAddHandAnswerMutation();
  const submit = async () => {
    const result = await addAnswer({
      editionId,
      promptKey: target.prompt.key,
      entrantKey: target.entrant.key,
      take: target.take,
      text,
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
      <div className="mt-3 flex justify-end">
        <Button tone="primary" disabled={text.trim() === "" || isLoading} onClick={() => void submit()}>
          {isLoading ? "Taking it in …" : "Take it in"}
        </Button>
      </div>
    </Sheet>
  );
}
