import type { Wall } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useRedoTakesMutation, useSendMendsMutation, useUndoRedoMutation } from "../../api/redos-api.js";
import { count } from "../../lib/format.js";
import { Button, Field, SelectField } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";

type What = "redo" | "mismatched" | "mend";

const WHAT_WORDS: Record<What, string> = {
  redo: "Redo takes: ask again, with a reason",
  mismatched: "Redo what another model answered",
  mend: "Mend: feed errors back, once",
};

/** Asks models again: a redo of takes that should not stand, or mends of entries with errors. For a cell, a row, a column or all. */
export function AskAgain({ wall }: { wall: Wall }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button compact onClick={() => setOpen(true)}>
        Ask again…
      </Button>
      <Sheet
        title="Ask again"
        description="A redo sets the old answers and their ballots aside; they stay readable, and undoing it brings them back. A mend is a further round, and changes nothing that is there."
        open={open}
        onOpenChange={setOpen}
      >
        <AskForm wall={wall} onDone={() => setOpen(false)} />
      </Sheet>
    </>
  );
}

function AskForm({ wall, onDone }: { wall: Wall; onDone: () => void }) {
  const [what, setWhat] = useState<What>("redo");
  const [promptId, setPromptId] = useState("");
  const [entrantId, setEntrantId] = useState("");
  const [take, setTake] = useState(String(wall.take));
  const [reason, setReason] = useState("");
  const [redo, redoing] = useRedoTakesMutation();
  const [undo] = useUndoRedoMutation();
  const [mend, mending] = useSendMendsMutation();
  const error = redoing.error ?? mending.error;
  const isBusy = redoing.isLoading || mending.isLoading;
  const entrants = wall.entrants.filter(({ version }) => version.isPresent);
  const scope = {
    editionId: wall.edition.id,
    ...(promptId === "" ? {} : { promptId }),
    ...(entrantId === "" ? {} : { entrantId }),
  };

  // The wall has the cells of one take; of the others it does not know how many are there.
  const cells = wall.cells.filter(
    (cell) =>
      (promptId === "" || cell.promptId === promptId) &&
      (entrantId === "" || cell.entrantId === entrantId) &&
      (what !== "mismatched" || cell.mismatch),
  ).length;
  const askLabel = take === String(wall.take) ? `Ask again for ${count(cells, "cell")}` : "Ask again";

  const sendMends = async () => {
    const { data } = await mend({ ...scope, take: Number(take) || 1 });
    if (!data) return;
    toast.success(`${count(data.sent, "mend")} sent.`);
    onDone();
  };
  const sendRedo = async () => {
    const only = what === "mismatched" ? ("mismatched" as const) : ("all" as const);
    const { data } = await redo({ ...scope, only, reason, ...(take === "" ? {} : { take: Number(take) }) });
    if (!data) return;
    toast.success(`${count(data.superseded, "take")} asked for again; ${count(data.ballots, "ballot")} set aside.`, {
      action: { label: "Undo", onClick: () => void undo(data.id) },
    });
    onDone();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void (what === "mend" ? sendMends() : sendRedo());
      }}
    >
      {error ? <ErrorNotice error={error} /> : null}
      <div className="grid grid-cols-2 gap-4 max-[700px]:grid-cols-1">
        <SelectField
          label="What"
          options={Object.entries(WHAT_WORDS)}
          value={what}
          onChange={(event) => setWhat(event.target.value as What)}
        />
        <SelectField
          label="Take"
          options={[
            ...(what === "mend" ? [] : [["", "All takes"] as const]),
            ...Array.from({ length: wall.takes }, (_, i) => [String(i + 1), `Take ${i + 1}`] as const),
          ]}
          value={take}
          onChange={(event) => setTake(event.target.value)}
        />
        <SelectField
          label="Prompts"
          options={[["", "All prompts"], ...wall.prompts.map(({ id, title }): [string, string] => [id, title])]}
          value={promptId}
          onChange={(event) => setPromptId(event.target.value)}
        />
        <SelectField
          label="Entrants"
          options={[["", "All entrants"], ...entrants.map(({ id, name }): [string, string] => [id, name])]}
          value={entrantId}
          onChange={(event) => setEntrantId(event.target.value)}
        />
        {what === "mend" ? null : (
          <Field
            className="col-span-full"
            label="Reason"
            hint="As in: wrong setting, host down, starter file forgotten. It stands with the old answer and in the audit trail."
            maxLength={500}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        )}
      </div>
      <div className="mt-4 flex justify-end">
        <Button tone="primary" type="submit" disabled={isBusy || (what !== "mend" && reason.trim().length < 3)}>
          {isBusy ? "Asking …" : what === "mend" ? "Send the mends" : askLabel}
        </Button>
      </div>
    </form>
  );
}
