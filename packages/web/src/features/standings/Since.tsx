import { formatRanks, nameOfCompetitor } from "@tourney/core/conclusions";
import type { BallotChange, StandingsChanges } from "@tourney/core/contract";
import { useSearchParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import { count, formatExact } from "../../lib/format.js";
import { LEAN_WORDS } from "../../lib/lean-words.js";
import { Button } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { SINCE } from "./Snapshots.js";
import { useGetChangesQuery, useListSnapshotsQuery } from "./snapshots-api.js";
import { Td, Th } from "./table-cells.js";

const UNTIL = "until";

/** What changed since a snapshot, and because of which ballots. The snapshot stands in the address. */
export function Since({ editionId }: { editionId: string }) {
  const [search, setSearch] = useSearchParams();
  const snapshotId = search.get(SINCE);
  const until = search.get(UNTIL) ?? undefined;
  const { data: snapshots = [] } = useListSnapshotsQuery(editionId);
  const { currentData, error, refetch } = useGetChangesQuery(
    { snapshotId: snapshotId ?? "", until },
    { skip: snapshotId === null },
  );
  if (snapshotId === null) return null;
  const choose = (name: string, value: string | null) => {
    const next = new URLSearchParams(search);
    if (value === null) next.delete(name);
    else next.set(name, value);
    if (name === SINCE) next.delete(UNTIL);
    setSearch(next, { preventScrollReset: true });
  };
  const since = snapshots.find(({ id }) => id === snapshotId);
  const later = snapshots.filter(({ id, takenAt }) => id !== snapshotId && (!since || takenAt > since.takenAt));
  return (
    <section aria-label="What changed" className="border-b border-strong-rule bg-sheet px-4 py-3">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="m-0 text-[16px] leading-6">What changed since {currentData?.from.name ?? since?.name ?? "…"}</h2>
        {later.length > 0 ? (
          <label className="text-[13px] text-soft">
            until{" "}
            <select
              className="h-7 max-w-60 rounded border border-rule bg-ground px-1 text-ink"
              value={until ?? ""}
              onChange={({ target }) => choose(UNTIL, target.value === "" ? null : target.value)}
            >
              <option value="">now</option>
              {later.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        ) : null}
        <Button compact className="ml-auto" onClick={() => choose(SINCE, null)}>
          Close
        </Button>
      </div>
      {error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : null}
      {currentData ? <Changes changes={currentData} /> : error ? null : <Loading what="what changed" />}
    </section>
  );
}

function Changes({ changes }: { changes: StandingsChanges }) {
  const { from, to, isSameMethod, isSameChoice, rows, reasons, ballots } = changes;
  const total = reasons.reduce((sum, one) => sum + one.ballots, 0);
  return (
    <>
      <p className="figures m-0 mt-1 text-soft">
        <span title={`${formatExact(from.takenAt)}, ${from.methodVersion}, ballots ${from.inputDigest}`}>
          {count(from.ballots, "ballot")} then
        </span>
        ,{" "}
        <span title={`${formatExact(to.takenAt)}, ${to.methodVersion}, ballots ${to.inputDigest}`}>
          {count(to.ballots, "ballot")} {to.name === "now" ? "now" : "later"}
        </span>
        . {from.inputDigest === to.inputDigest ? "They are the same ballots. " : ""}
        {isSameChoice ? "" : "Something else is chosen to count. "}
        {isSameMethod
          ? ""
          : `The method is another, so figures differ without any ballot: ${from.methodVersion}, then ${to.methodVersion}.`}
      </p>
      <div className="mt-3 grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-10 max-[900px]:grid-cols-1">
        <Figures rows={rows} later={to.name === "now" ? "Now" : "Later"} />
        <div>
          <h3 className="m-0 border-b border-rule pb-1 text-[14px]">Because of</h3>
          {reasons.length === 0 ? <p className="m-0 py-1.5 text-soft">No ballot counts otherwise than then.</p> : null}
          <ul className="m-0 list-none p-0">
            {reasons.map(({ change, why, ballots: n }) => (
              <li key={`${change} ${why}`} className="figures flex gap-3 border-b border-rule py-1.5">
                <span className="min-w-0 flex-1">{why}</span>
                <span className="whitespace-nowrap text-soft">
                  {SIGNS[change]} {count(n, "ballot")}
                </span>
              </li>
            ))}
          </ul>
        </div>
      </div>
      {ballots.length === 0 ? null : (
        <details className="mt-3">
          <summary className="cursor-pointer text-[13px]">
            {ballots.length < total
              ? `The newest ${ballots.length} of ${count(total, "ballot")}`
              : count(total, "ballot")}{" "}
            one by one
          </summary>
          <ul aria-label="Ballots that changed" className="m-0 mt-1 max-h-72 list-none overflow-auto p-0 text-[13px]">
            {ballots.map((ballot) => (
              <ChangedBallot key={ballot.ballotId} ballot={ballot} />
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

const SIGNS: Record<BallotChange["change"], string> = {
  "counts now": "+",
  "counts no more": "−",
  "counts otherwise": "±",
};

function Figures({ rows, later }: { rows: StandingsChanges["rows"]; later: string }) {
  return (
    <div className="relative overflow-x-auto">
      <table className="figures w-full border-collapse text-[14px]">
        <thead>
          <tr className="border-b border-rule text-left text-[13px] text-soft">
            <Th>Entrant</Th>
            <Th>Then</Th>
            <Th>{later}</Th>
            <Th>Change</Th>
            <Th>Rank then</Th>
            <Th>Rank {later.toLowerCase()}</Th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ entrant, version, from, to }) => (
            <tr key={version.id} className="border-b border-rule">
              <th scope="row" className="py-1.5 pr-3 text-left font-normal whitespace-nowrap">
                <span className="inline-flex items-center gap-1.5">
                  <EntrantGlyph glyph={entrant.glyph} /> {nameOfCompetitor({ entrant, version })}
                </span>
              </th>
              <Td>{formatRating(from)}</Td>
              <Td>{formatRating(to)}</Td>
              <Td>{formatChange(from, to)}</Td>
              <Td>{from ? formatRanks(from.rankRange) : "—"}</Td>
              <Td>{to ? formatRanks(to.rankRange) : "—"}</Td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

type Figure = StandingsChanges["rows"][number]["from"];

const formatRating = (figure: Figure): string =>
  figure === null || figure.rating === null
    ? "—"
    : `${Math.round(figure.rating)}${figure.halfWidth === null ? "" : ` ± ${Math.round(figure.halfWidth)}`}`;

/** Of the rounded figures, so that what stands side by side adds up. */
function formatChange(from: Figure, to: Figure): string {
  if (from === null || to === null || from.rating === null || to.rating === null) return "—";
  const change = Math.round(to.rating) - Math.round(from.rating);
  return change === 0 ? "0" : `${change > 0 ? "+" : "−"}${Math.abs(change)}`;
}

function ChangedBallot({ ballot }: { ballot: BallotChange }) {
  const { change, why, castAt, voterName, promptKey, leftName, rightName, leftEntryId, rightEntryId, lean } = ballot;
  return (
    <li className="flex gap-3 border-b border-rule py-1">
      <span className="w-3 text-soft">{SIGNS[change]}</span>
      <span className="min-w-0 flex-1">
        {voterName || "no name given"} on {promptKey}:{" "}
        <EditionLink to={`/compare?entries=${leftEntryId},${rightEntryId}`}>
          {leftName} and {rightName}
        </EditionLink>
        , {LEAN_WORDS[lean + 2]}
      </span>
      <span className="text-soft" title={formatExact(castAt)}>
        {why}
      </span>
    </li>
  );
}
