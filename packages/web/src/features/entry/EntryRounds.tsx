import type { EntryDetail } from "@tourney/core/contract";
import { useState } from "react";
import { EditionLink, useEditionNavigate } from "../../api/edition-links.js";
import { toast } from "sonner";
import { count } from "../../lib/format.js";
import { useListEntrantsQuery } from "../../api/entrants-api.js";
import { Button, TextArea, Toggle } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { useEditEntryMutation, useSendCorrectionMutation } from "./entry-api.js";

type Round = EntryDetail["rounds"][number];

/** What a round is, in words: the turn, the first shot or which mend and correction, and whether a person had a hand in it. */
export function describeRound({ turn, mends, corrections, handMended, followUp }: Round, hasTurns: boolean): string {
  const rounds = [
    ...(corrections > 0 ? [`correction ${corrections}${followUp?.toSome ? " (to some)" : ""}`] : []),
    ...(mends > 0 ? [`mend ${mends}`] : []),
  ];
  // What came last stands last: a mend after a correction is told apart from the first mend.
  const ordered = followUp?.kind === "correction" ? rounds.toReversed() : rounds;
  const what = ordered.length === 0 ? "first shot" : ordered.join(", ");
  return `${hasTurns ? `turn ${turn}, ` : ""}${what}${handMended ? ", mended by hand" : ""}`;
}

/** Everything made for this prompt, entrant and take: turns, mend rounds, and what was changed by hand. */
export function EntryRounds({ entry }: { entry: EntryDetail }) {
  const { rounds } = entry;
  if (rounds.length < 2) return null;
  const hasTurns = entry.prompt.turns.length > 0;
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
          <EditionLink
            key={round.entryId}
            to={`/entries/${round.entryId}`}
            aria-current={round.entryId === entry.id}
            className={`rounded border px-2.5 text-[13px] leading-[22px] no-underline ${round.entryId === entry.id ? "border-ink bg-ink text-ground" : "border-rule bg-sheet text-ink hover:border-ink"}`}
          >
            {label}
            {round.errors > 0 ? ` · ${count(round.errors, "error")}` : ""}
          </EditionLink>
        );
      })}
    </nav>
  );
}

/** One typed follow-up, sent alike to every entrant that has answered this prompt, or to some of them. */
export function CorrectAll({ entry }: { entry: EntryDetail }) {
  const { currentData: entrants = [] } = useListEntrantsQuery();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [isOpen, setIsOpen] = useState(false);
  const [text, setText] = useState("");
  const [send, { isLoading, error }] = useSendCorrectionMutation();
  const reachable = entrants.filter(({ endpoint, retiredAt }) => endpoint.protocol !== "by-hand" && retiredAt === null);
  const toggle = (id: string) => {
    const next = new Set(left);
    if (!next.delete(id)) next.add(id);
    setLeft(next);
  };
  const submit = async () => {
    const entrantIds = reachable.filter(({ id }) => !left.has(id)).map(({ id }) => id);
    const some = left.size > 0 ? { entrantIds } : {};
    const result = await send({ promptId: entry.prompt.id, text, take: entry.take, ...some });
    if (!result.data) return;
    toast.success(`Sent to ${count(result.data.sent, "entrant")}, word for word alike.`);
    setIsOpen(false);
    setText("");
  };
  return (
    <>
      <Button onClick={() => setIsOpen(true)}>Correct…</Button>
      <Sheet
        title={`Correct ${entry.prompt.title}`}
        description="What you type is sent word for word alike to every entrant that has answered this prompt. What comes is kept apart from first shots; where it went to some only, that is said with it."
        open={isOpen}
        onOpenChange={setIsOpen}
      >
        {error ? <ErrorNotice error={error} /> : null}
        <TextArea label="The correction" rows={6} value={text} onChange={(event) => setText(event.target.value)} />
        <fieldset className="m-0 border-0 p-0">
          <legend className="mb-1 p-0 text-[13px] font-semibold">To</legend>
          <div className="flex flex-wrap gap-1">
            {reachable.map(({ id, name }) => (
              <Toggle key={id} pressed={!left.has(id)} onClick={() => toggle(id)}>
                {name}
              </Toggle>
            ))}
          </div>
        </fieldset>
        <div className="mt-3 flex justify-end">
          <Button
            tone="primary"
            disabled={text.trim().length < 3 || isLoading || (left.size > 0 && left.size === reachable.length)}
            onClick={() => void submit()}
          >
            {left.size === 0 ? "Send to all" : `Send to ${count(reachable.length - left.size, "entrant")}`}
          </Button>
        </div>
      </Sheet>
    </>
  );
}

/** Code that a person changes: a new entry beside this one, marked, and kept out of bouts. */
export function MendByHand({ entry }: { entry: EntryDetail }) {
  const navigate = useEditionNavigate();
  const [isOpen, setIsOpen] = useState(false);
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [edit, { isLoading, error }] = useEditEntryMutation();
  const changed = entry.fileTexts.filter(({ path, text }) => texts[path] !== undefined && texts[path] !== text);
  const submit = async () => {
    const files = changed.map(({ path }) => ({ path, text: texts[path]! }));
    const result = await edit({ entryId: entry.id, files });
    if (!result.data) return;
    toast.success("Kept as an entry mended by hand. It is recorded, and takes part in no bout.");
    navigate(`/entries/${result.data.entryId}?tab=code`);
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
