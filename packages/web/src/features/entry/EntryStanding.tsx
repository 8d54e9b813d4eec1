import type { AnswerMarks, EntryDetail } from "@tourney/core/contract";
import { type ReactNode, useState } from "react";
import { toast } from "sonner";
import { EditionLink } from "../../api/edition-links.js";
import { useRedoTakesMutation, useSendMendsMutation, useUndoRedoMutation } from "../../api/redos-api.js";
import { toApiError } from "../../api/tourney-api.js";
import { count, formatDay, formatExact } from "../../lib/format.js";
import { Button, Field } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { useAcceptMismatchMutation, useMarkAnswerMutation } from "./entry-api.js";

/** Why an entry does not stand like any other: superseded, of an older version, by another model, helped along. */
export function EntryNotices({ entry }: { entry: EntryDetail }) {
  const { superseded, redone, version, mismatch, handHelp, offTask } = entry;
  const notices: [key: string, ReactNode][] = [
    ...(superseded
      ? [["superseded", <Superseded key="superseded" entry={entry} superseded={superseded} />] as const]
      : []),
    ...(redone && !redone.undone && !superseded ? [["redone", <Redone key="redone" redone={redone} />] as const] : []),
    ...(version.isPresent
      ? []
      : [
          [
            "version",
            <>
              <strong>An older version.</strong> {entry.entrant.name} is set up otherwise now; this was version{" "}
              {version.number} ({version.model}). It is neither voted on nor rated beside the present one.
            </>,
          ] as const,
        ]),
    ...(mismatch
      ? [["mismatch", <Mismatch key="mismatch" entry={entry} accepted={mismatch.accepted} />] as const]
      : []),
    ...(handHelp === null
      ? []
      : [
          [
            "help",
            <>
              <strong>Helped by hand:</strong> {handHelp}. It does not count as working by itself.
            </>,
          ] as const,
        ]),
    ...(offTask === null
      ? []
      : [
          [
            "task",
            <>
              <strong>Not what was asked for:</strong> {offTask}.
            </>,
          ] as const,
        ]),
  ].map(([key, notice]) => [key as string, notice as ReactNode]);
  if (notices.length === 0) return null;
  return (
    <ul aria-label="How it stands" className="m-0 list-none border-b border-rule px-4 py-2">
      {notices.map(([key, notice]) => (
        <li key={key} className="my-1 border-l-2 border-care pl-3">
          {notice}
        </li>
      ))}
    </ul>
  );
}

function Superseded({ superseded }: { entry: EntryDetail; superseded: NonNullable<EntryDetail["superseded"]> }) {
  return (
    <>
      <strong>Superseded</strong>{" "}
      <time dateTime={superseded.at} title={formatExact(superseded.at)}>
        on {formatDay(superseded.at)}
      </time>
      : “{superseded.why}”. It stays readable; its ballots are set aside.{" "}
      {superseded.holdsId ? (
        <EditionLink to={`/entries/${superseded.holdsId}`}>Open the one that holds</EditionLink>
      ) : (
        "Nothing holds in its place yet."
      )}
    </>
  );
}

function Redone({ redone }: { redone: NonNullable<EntryDetail["redone"]> }) {
  const [undo, { isLoading, error }] = useUndoRedoMutation();
  return (
    <>
      <strong>Redone:</strong> “{redone.why}”.{" "}
      <Button compact disabled={isLoading} onClick={() => void undo(redone.redoId)}>
        Undo: let the old answer hold
      </Button>
      {error ? <ErrorNotice error={error} /> : null}
    </>
  );
}

function Mismatch({ entry: { id, generation }, accepted }: { entry: EntryDetail; accepted: boolean }) {
  const [accept, { isLoading, error }] = useAcceptMismatchMutation();
  return (
    <>
      <strong>Answered by {generation.reportedModel}</strong>, asked for {generation.requestedModel}.{" "}
      {accepted ? "You let it count." : "No voter is shown it, and its ballots are set aside."}{" "}
      <Button compact disabled={isLoading} onClick={() => void accept({ entryId: id, accepted: !accepted })}>
        {accepted ? "Keep it from voters" : "Let it count"}
      </Button>
      {error ? <ErrorNotice error={error} /> : null}
    </>
  );
}

/** Asks for this take again. The old answer is superseded and stays readable. */
export function RedoTake({ entry }: { entry: EntryDetail }) {
  const [isOpen, setIsOpen] = useState(false);
  const [reason, setReason] = useState("");
  const [redo, { isLoading, error }] = useRedoTakesMutation();
  const [undo] = useUndoRedoMutation();
  if (entry.superseded !== null || !entry.version.isPresent) return null;
  const submit = async () => {
    const { data } = await redo({
      editionId: entry.editionId,
      promptId: entry.prompt.id,
      entrantId: entry.entrant.id,
      take: entry.take,
      reason,
    });
    if (!data) return;
    const said = data.runId === null ? "The old answer is set aside; import the new one." : "It is asked for again.";
    toast.success(`${said} ${count(data.ballots, "ballot")} set aside.`, {
      action: { label: "Undo", onClick: () => void undo(data.id) },
    });
    setIsOpen(false);
    setReason("");
  };
  return (
    <>
      <Button onClick={() => setIsOpen(true)}>Redo…</Button>
      <Sheet
        title={`Redo take ${entry.take} of ${entry.prompt.title}`}
        description={`${entry.entrant.name} is asked again with the settings it has now. This answer stays readable, and ballots on it are set aside; undoing the redo brings both back.`}
        open={isOpen}
        onOpenChange={setIsOpen}
      >
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void submit();
          }}
        >
          {error ? <ErrorNotice error={error} /> : null}
          <Field
            label="Reason"
            hint="As in: wrong setting, host down, starter file forgotten"
            maxLength={500}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <div className="mt-3 flex justify-end">
            <Button tone="primary" type="submit" disabled={reason.trim().length < 3 || isLoading}>
              Ask again
            </Button>
          </div>
        </form>
      </Sheet>
    </>
  );
}

/** Feeds an entry's own errors back, as its next mend. */
export function MendEntry({ entry }: { entry: EntryDetail }) {
  const [mend, { isLoading }] = useSendMendsMutation();
  const errors = entry.render?.recording?.findings.filter(({ severity }) => severity === "error").length ?? 0;
  const isNewest = entry.rounds.findLast(({ handMended }) => !handMended)?.entryId === entry.id;
  if (errors === 0 || !isNewest || entry.superseded !== null || !entry.version.isPresent || entry.handMended)
    return null;
  const send = async () => {
    const { data, error } = await mend({ editionId: entry.editionId, entryId: entry.id, take: entry.take });
    if (data) toast.success(`${count(errors, "error")} sent back, as mend ${entry.mends + 1}.`);
    else toast.error(toApiError(error).detail);
  };
  return (
    <Button disabled={isLoading} title="Send its own errors back to the model, once" onClick={() => void send()}>
      Mend
    </Button>
  );
}

/** What the lead notes of an answer: that a person helped, or that it is not what was asked for. */
export function MarkAnswer({ entry }: { entry: EntryDetail }) {
  const [isOpen, setIsOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setIsOpen(true)}>Note…</Button>
      <Sheet
        title="Note of this answer"
        description="What no recording can see. An empty field takes the note away; every change is in the audit trail."
        open={isOpen}
        onOpenChange={setIsOpen}
      >
        <MarkForm entry={entry} onDone={() => setIsOpen(false)} />
      </Sheet>
    </>
  );
}

function MarkForm({ entry, onDone }: { entry: EntryDetail; onDone: () => void }) {
  const [handHelp, setHandHelp] = useState(entry.handHelp ?? "");
  const [offTask, setOffTask] = useState(entry.offTask ?? "");
  const [mark, { isLoading, error }] = useMarkAnswerMutation();
  const issues = error ? toApiError(error).issues : [];
  const toNote = (text: string) => (text.trim() === "" ? null : text.trim());
  const submit = async () => {
    const marks: AnswerMarks = { handHelp: toNote(handHelp), offTask: toNote(offTask) };
    const result = await mark({ entryId: entry.id, marks });
    if (!result.data) return;
    toast.success("Noted.");
    onDone();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      {error ? <ErrorNotice error={error} /> : null}
      <Field
        label="How a person helped it along"
        hint="It then does not count as working by itself"
        maxLength={500}
        value={handHelp}
        error={issues.find(({ path }) => path === "handHelp")?.message}
        onChange={(event) => setHandHelp(event.target.value)}
      />
      <Field
        label="Why it is not what was asked for"
        hint="It stays on the wall and in the booth, and says so"
        maxLength={500}
        value={offTask}
        error={issues.find(({ path }) => path === "offTask")?.message}
        onChange={(event) => setOffTask(event.target.value)}
      />
      <div className="mt-3 flex justify-end">
        <Button tone="primary" type="submit" disabled={isLoading}>
          Note it
        </Button>
      </div>
    </form>
  );
}
