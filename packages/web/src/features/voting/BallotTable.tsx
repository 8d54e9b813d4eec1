import type { BallotFilter, BallotLine, BallotScope, Panel, SeenWith, VotingReport } from "@tourney/core/contract";
import { CONTEST_WORDS } from "@tourney/core/conclusions";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import { useLocation, useSearchParams } from "react-router";
import { SCOPE_NAMES } from "../../api/ballots-path.js";
import { EditionLink } from "../../api/edition-links.js";
import { toast } from "sonner";
import { count, formatAgo, formatExact, formatMs } from "../../lib/format.js";
import { LEAN_WORDS } from "../../lib/lean-words.js";
import { REASON_WORDS } from "../../lib/reason-words.js";
import { Button } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { WhyForm } from "./WhyForm.js";
import {
  type BallotsWanted,
  useListBallotsQuery,
  useRestoreBallotMutation,
  useVoidBallotMutation,
} from "./voting-api.js";

type Entrants = VotingReport["entrants"];

const FILTERS: readonly BallotFilter[] = ["all", "that count", "with a note", "voided", "set aside"];

interface BallotTableProps {
  editionId: string;
  panels: readonly Panel[];
  entrants: Entrants;
  prompts: readonly { id: string; title: string }[];
}

/** Ballots one by one, with what voters noted; the lead can let single ones count no more. What is filtered by stands in the address. */
export function BallotTable({ editionId, panels, entrants, prompts }: BallotTableProps) {
  const [search, setSearch] = useSearchParams();
  const scope = readScope(search);
  const only = FILTERS.find((filter) => filter === search.get("ballots")) ?? "all";
  const { hash } = useLocation();
  const section = useRef<HTMLElement>(null);
  // The browser looked for it before the ballots were there.
  const showSection = useCallback(() => {
    if (hash === "#ballots") section.current?.scrollIntoView();
  }, [hash]);
  const [pages, setPages] = useState<readonly (string | undefined)[]>([undefined]);
  const choose = (name: string, value: string | undefined) => {
    const next = new URLSearchParams(search);
    if (value === undefined) next.delete(name);
    else next.set(name, value);
    setPages([undefined]);
    setSearch(next, { replace: true, preventScrollReset: true });
  };
  const clear = () => {
    const next = new URLSearchParams(search);
    for (const name of NARROWED_BY) next.delete(SCOPE_NAMES[name]);
    setPages([undefined]);
    setSearch(next, { replace: true, preventScrollReset: true });
  };
  const select = "h-7 max-w-60 rounded border border-rule bg-sheet px-1 text-ink";
  const voters = panels.flatMap((panel) => panel.voters);
  return (
    <section ref={section} id="ballots" aria-label="Ballots" className="min-w-0 scroll-mt-14">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-strong-rule pb-1">
        <h2 className="m-0 text-[16px] leading-6">Ballots</h2>
        <label className="text-[13px] text-soft">
          of{" "}
          <select
            className={select}
            value={scope.voterId ?? ""}
            onChange={(event) => choose("ballotsOf", event.target.value || undefined)}
          >
            <option value="">all voters</option>
            {voters.map(({ id, name }, index) => (
              <option key={id} value={id}>
                {name || `voter ${index + 1}, no name given`}
              </option>
            ))}
          </select>
        </label>
        <label className="text-[13px] text-soft">
          which{" "}
          <select
            className={select}
            value={only}
            onChange={(event) => choose("ballots", event.target.value === "all" ? undefined : event.target.value)}
          >
            {FILTERS.map((filter) => (
              <option key={filter}>{filter}</option>
            ))}
          </select>
        </label>
        <Narrowed {...{ scope, panels, entrants, prompts }} onAll={() => clear()} />
      </div>
      <div className="relative overflow-x-auto">
        <table className="w-full border-collapse text-left text-[13px]">
          <thead>
            <tr className="border-b border-rule text-[12px] text-soft">
              {["When", "Voter", "Prompt", "Left", "Lean", "Right", "Because of", "Note", "Time"].map((title) => (
                <th key={title} className={`py-1.5 pr-4 font-medium ${title === "Time" ? "text-right" : ""}`}>
                  {title}
                </th>
              ))}
              <th>
                <span className="sr-only">What to do</span>
              </th>
            </tr>
          </thead>
          {pages.map((before, index) => (
            <BallotPage
              key={before ?? "first"}
              wanted={{ editionId, ...scope, only, before }}
              entrants={entrants}
              isLast={index === pages.length - 1}
              onMore={(next) => setPages([...pages, next])}
              {...(index === 0 ? { onShown: showSection } : {})}
            />
          ))}
        </table>
      </div>
    </section>
  );
}

const NARROWED_BY = ["ofId", "againstId", "promptId", "panelId", "contest", "counting"] as const;

const readScope = (search: URLSearchParams): BallotScope =>
  Object.fromEntries(
    Object.entries(SCOPE_NAMES).flatMap(([name, parameter]) => {
      const value = search.get(parameter);
      return value === null ? [] : [[name, value]];
    }),
  );

/** What a figure that was followed here is made of, in words, with the way back to all ballots. */
function Narrowed({
  scope: { ofId, againstId, promptId, panelId, contest, counting },
  panels,
  entrants,
  prompts,
  onAll,
}: Omit<BallotTableProps, "editionId"> & { scope: BallotScope; onAll: () => void }) {
  const nameOf = (versionId: string | undefined) =>
    entrants.find((entrant) => entrant.versionId === versionId)?.name ?? "an older version";
  const parts = [
    ...(ofId === undefined ? [] : [`of ${nameOf(ofId)}`]),
    ...(againstId === undefined ? [] : [`against ${nameOf(againstId)}`]),
    ...(promptId === undefined ? [] : [`on ${prompts.find(({ id }) => id === promptId)?.title ?? "a prompt"}`]),
    ...(panelId === undefined ? [] : [`by ${panels.find(({ id }) => id === panelId)?.title ?? "another panel"}`]),
  ];
  if (contest !== undefined) parts.push(`on ${CONTEST_WORDS[contest]}`);
  if (counting !== undefined) parts.push("that count by what was chosen on the standings");
  if (parts.length === 0) return null;
  return (
    <span className="flex items-baseline gap-2 text-[13px]">
      Only those {parts.join(" ")}
      <Button compact onClick={onAll}>
        All
      </Button>
    </span>
  );
}

interface BallotPageProps {
  wanted: BallotsWanted;
  entrants: Entrants;
  isLast: boolean;
  onMore: (before: string) => void;
  /** Called once its ballots are there. */
  onShown?: () => void;
}

function BallotPage({ wanted, entrants, isLast, onMore, onShown }: BallotPageProps) {
  const { currentData, error, refetch } = useListBallotsQuery(wanted);
  const isShown = currentData !== undefined;
  useEffect(() => {
    if (isShown) onShown?.();
  }, [isShown, onShown]);
  const [nowMs] = useState(() => Date.now());
  const whole = (content: ReactNode) => (
    <tbody>
      <tr>
        <td colSpan={10} className="py-2">
          {content}
        </td>
      </tr>
    </tbody>
  );
  if (currentData === undefined)
    return whole(error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="ballots" />);
  const { ballots, total, before } = currentData;
  if (ballots.length === 0) return whole(<span className="text-soft">{NONE[wanted.only]}</span>);
  return (
    <tbody>
      {ballots.map((ballot) => (
        <BallotRow key={ballot.id} {...{ ballot, entrants, nowMs }} />
      ))}
      {isLast ? (
        <tr>
          <td colSpan={10} className="py-2 text-soft">
            {count(total, "ballot")}
            {before === null ? null : (
              <Button compact className="ml-4" onClick={() => onMore(before)}>
                Show older ones
              </Button>
            )}
          </td>
        </tr>
      ) : null}
    </tbody>
  );
}

const VOIDED_WORDS: Record<NonNullable<BallotLine["voided"]>["by"], string> = {
  voter: "Taken back",
  lead: "Voided",
  redo: "Set aside",
  mismatch: "Set aside",
};

const NONE: Record<BallotFilter, string> = {
  all: "No ballot has been cast yet.",
  "that count": "No ballot counts.",
  "with a note": "Nobody has written a note.",
  voided: "No ballot has been taken back or voided.",
  "set aside": "No ballot was set aside: no take was redone, and no other model answered.",
};

function BallotRow({ ballot, entrants, nowMs }: { ballot: BallotLine; entrants: Entrants; nowMs: number }) {
  const {
    castAt,
    voterName,
    sample,
    promptTitle,
    lean,
    reasons,
    note,
    dwellMs,
    isAutomatic,
    isRepeat,
    contest,
    askedBecause,
    voided,
  } = ballot;
  const cell = "py-1.5 pr-4 align-top";
  const crossed = voided === null ? "" : "line-through decoration-soft";
  return (
    <tr className={`border-b border-rule ${voided === null ? "" : "text-soft"}`}>
      <td className={`${cell} whitespace-nowrap text-soft`}>
        <time dateTime={castAt} title={formatExact(castAt)}>
          {formatAgo(castAt, nowMs)}
        </time>
      </td>
      <th scope="row" className={`${cell} font-normal`}>
        {voterName || "no name given"}
        {sample ? <span className="text-care-ink"> · sample</span> : null}
      </th>
      <td className={cell}>
        {promptTitle}
        {contest === "entrants" ? null : <span className="text-care-ink"> · not rated</span>}
        {isRepeat ? <span className="text-soft"> · shown again</span> : null}
        <p className="m-0 text-[12px] text-soft">asked because: {askedBecause}</p>
      </td>
      <td className={cell}>
        <Side
          {...{ entrants }}
          entrantId={ballot.leftEntrantId}
          entryId={ballot.leftEntryId}
          form={ballot.leftForm}
          works={ballot.leftWorks}
        />
      </td>
      <td className={`${cell} whitespace-nowrap ${crossed}`}>
        <EditionLink
          to={`/compare?entries=${ballot.leftEntryId},${ballot.rightEntryId}`}
          title="Both recordings side by side"
        >
          {isAutomatic ? "not shown" : LEAN_WORDS[lean + 2]}
        </EditionLink>
      </td>
      <td className={cell}>
        <Side
          {...{ entrants }}
          entrantId={ballot.rightEntrantId}
          entryId={ballot.rightEntryId}
          form={ballot.rightForm}
          works={ballot.rightWorks}
        />
      </td>
      <td className={cell}>{reasons.map((reason) => REASON_WORDS[reason]).join(", ") || "—"}</td>
      <td className={`${cell} max-w-72 break-words`}>
        {note}
        {voided === null ? null : (
          <p className="m-0">
            {VOIDED_WORDS[voided.by]} {formatAgo(voided.at, nowMs)}
            {voided.by === "voter" ? "" : `: ${voided.why}`}
          </p>
        )}
      </td>
      <td
        className={`${cell} figures text-right whitespace-nowrap`}
        title={ballot.seenWith === null ? undefined : describeSeenWith(ballot.seenWith)}
      >
        {isAutomatic ? "—" : formatMs(dwellMs)}
      </td>
      <td className="py-1.5 text-right align-top whitespace-nowrap">
        <BallotActions ballot={ballot} />
      </td>
    </tr>
  );
}

/** What the voter saw the pages with. */
const describeSeenWith = ({ width, height, pointer, frameRate }: SeenWith): string =>
  [
    `${width}×${height}`,
    pointer === "none" ? "no pointer" : pointer,
    ...(frameRate === null ? [] : [`${frameRate} frames a second`]),
  ].join(", ");

interface SideProps {
  entrants: Entrants;
  entrantId: string;
  entryId: string;
  /** Which of its pages it is, where an entrant meets itself. */
  form: string;
  works: boolean;
}

function Side({ entrants, entrantId, entryId, form, works }: SideProps) {
  const entrant = entrants.find(({ id }) => id === entrantId);
  return (
    <>
      <EditionLink to={`/entries/${entryId}`} className="inline-flex items-center gap-1.5 whitespace-nowrap">
        {entrant ? <EntrantGlyph glyph={entrant.glyph} size={11} /> : null} {entrant?.name ?? "?"}
      </EditionLink>
      {form === "" ? null : <p className="m-0 text-[12px] text-soft">{form}</p>}
      {works ? null : <p className="m-0 text-broken">✕ doesn’t work</p>}
    </>
  );
}

function BallotActions({ ballot: { id, voided } }: { ballot: BallotLine }) {
  const [voidBallot, voiding] = useVoidBallotMutation();
  const [restore, restoring] = useRestoreBallotMutation();
  const [isAsking, setIsAsking] = useState(false);
  const isBusy = voiding.isLoading || restoring.isLoading;
  const error = voiding.error ?? restoring.error;
  const problem = error ? <ErrorNotice error={error} /> : null;
  if (voided !== null) {
    return voided.by === "voter" ? null : (
      <>
        <Button compact tone="quiet" disabled={isBusy} onClick={() => void restore(id)}>
          Let count again
        </Button>
        {problem}
      </>
    );
  }
  if (!isAsking) {
    return (
      <Button compact tone="quiet" disabled={isBusy} onClick={() => setIsAsking(true)}>
        Void …
      </Button>
    );
  }
  const submit = async (why: string) => {
    const result = await voidBallot({ ballotId: id, why });
    if (!result.data) return;
    setIsAsking(false);
    toast.success("The ballot does not count any more.", {
      action: { label: "Undo", onClick: () => void restore(id) },
    });
  };
  return (
    <WhyForm
      label="Why the ballot is voided"
      verb="Void"
      isBusy={isBusy}
      onSubmit={(why) => void submit(why)}
      onCancel={() => setIsAsking(false)}
    >
      {problem}
    </WhyForm>
  );
}
