import type { EntryDetail } from "@tourney/core/contract";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { count } from "../../lib/format.js";
import { Button, TextArea } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { useEditEntryMutation, useSendCorrectionMutation } from "./entry-api.js";

type Round = EntryDetail["rounds"][number];

/** What a round is, in words: the turn, the first shot or a mend, and whether a person had a hand in it. */
export function describeRound({ stage, mendRound, handMended, followUp }: Round, hasTurns: boolean): string {
  const turn = hasTurns ? `turn ${stage}, ` : "";
  const what = mendRound === 0 ? "first shot" : `${followUp?.kind ?? "mend"} ${mendRound}`;
  return `${turn}${what}${handMended ? ", mended by hand" : ""}`;
}

/** Everything made for this prompt, entrant and take: turns, mend rounds, and what was changed by hand. */
export function EntryRounds({ entry }: { entry: EntryDetail }) {
  const { rounds } = entry;
  if (rounds.length < 2) return null;
  const hasTurns = entry.prompt.stages.length > 0;
  return (
    <nav aria-label="Rounds" className="flex flex-wrap items-center gap-2 border-b border-rule px-4 py-2">
      {rounds.map((round, index) => {
        const label = describeRound(round, hasTurns);
        if (round.entryId === null)
          return (
            <span key={index} className="text-soft">
              {label}: {round.state}
            </span>
          );
        return (
          <Link
            key={round.entryId}
            to={`/entries/${round.entryId}`}
            aria-current={round.entryId === entry.id}
            className={`rounded border px-2.5 text-[13px] leading-[22px] no-underline ${round.entryId === entry.id ? "border-ink bg-ink text-ground" : "border-rule bg-sheet text-ink hover:border-ink"}`}
          >
            {label}
            {round.errors > 0 ? ` · ${count(round.errors, "error")}` : ""}
          </Link>
        );
      })}
    </nav>
  );
}

/** One typed follow-up, sent alike to every entrant that has answered this prompt. */
export function CorrectAll({ entry }: { entry: EntryDetail }) {
  const [isOpen, setIsOpen] = useState(false);
  const [text, setText] = useState("");
  const [send, { isLoading, error }] = useSendCorrectionMutation();
  const submit = async () => {
    const result = await send({ promptId: entry.prompt.id, text, take: entry.take });
    if (!result.data) return;
    toast.success(`Sent to ${count(result.data.sent, "entrant")}, word for word alike.`);
    setIsOpen(false);
    setText("");
  };
  return (
    <>
      <Button onClick={() => setIsOpen(true)}>Correct all…</Button>
      <Sheet
        title={`Correct ${entry.prompt.title}`}
        description="What you type is sent alike to every entrant that has answered this prompt. What comes is kept apart from first shots."
        open={isOpen}
        onOpenChange={setIsOpen}
      >
        {error ? <ErrorNotice error={error} /> : null}
        <TextArea label="The correction" rows={6} value={text} onChange={(event) => setText(event.target.value)} />
        <div className="mt-3 flex justify-end">
          <Button tone="primary" disabled={text.trim().length < 3 || isLoading} onClick={() => void submit()}>
            Send to all
          </Button>
        </div>
      </Sheet>
    </>
  );
}

/** Code that a person changes: a new entry beside this one, marked, and kept out of bouts. */
export function MendByHand({ entry }: { entry: EntryDetail }) {
  const navigate = useNavigate();
  const [isOpen, setIsOpen] = useState(false);
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [edit, { isLoading, error }] = useEditEntryMutation();
  const changed = entry.fileTexts.filter(({ path, text }) => texts[path] !== undefined && texts[path] !== text);
  const submit = async () => {
    const files = changed.map(({ path }) => ({ path, text: texts[path]! }));
    const result = await edit({ entryId: entry.id, files });
    if (!result.data) return;
    toast.success("Kept as an entry mended by hand. It is recorded, and takes part in no bout.");
    void navigate(`/entries/${result.data.entryId}?tab=code`);
    setIsOpen(false);
  };
  return (
    <>
      <Button compact disabled={entry.entryPath === null} onClick={() => setIsOpen(true)}>
        Mend by hand…
      </Button>
      <Sheet
        title="Mend by hand"
        description="The entry itself stays as it is. What you change is kept beside it with its difference, and takes part in no bout."
        open={isOpen}
        onOpenChange={setIsOpen}
      >
        {error ? <ErrorNotice error={error} /> : null}
        {entry.fileTexts.map(({ path, text }) => (
          <TextArea
            key={path}
            label={path}
            mono
            rows={Math.min(20, text.split("\n").length + 1)}
            spellCheck={false}
            value={texts[path] ?? text}
            onChange={(event) => setTexts({ ...texts, [path]: event.target.value })}
          />
        ))}
        <div className="mt-3 flex justify-end">
          <Button tone="primary" disabled={changed.length === 0 || isLoading} onClick={() => void submit()}>
            Keep {changed.length === 0 ? "" : count(changed.length, "changed file")}
          </Button>
        </div>
      </Sheet>
    </>
  );
}
