import { describeDelivery, describeVersion } from "@tourney/core/conclusions";
import type { Wall } from "@tourney/core/contract";
import { type SheetTally, tallySheets } from "@tourney/core/sheets";
import { memo } from "react";
import type { VirtualItem } from "@tanstack/react-virtual";
import { formatMs, formatShare, formatUsd } from "../../lib/format.js";
import { describeTally } from "../../lib/tally-words.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import type { WallKnowledge } from "./wall-knowledge.js";

const NO_SHEETS = tallySheets([]);

interface RowHeadProps {
  prompt: Wall["prompts"][number];
  widthPx: number;
  tally: SheetTally | undefined;
  known: WallKnowledge;
  isPlayed: boolean;
  onPlay: (promptId: string) => void;
}

/** A prompt at the left of its row, with how far it tells entrants apart. */
export const RowHead = memo(function RowHead(props: RowHeadProps) {
  const {
    prompt: { id, title, kind },
    widthPx,
    tally,
    known,
    isPlayed,
    onPlay,
  } = props;
  return (
    <div
      role="rowheader"
      className="group sticky left-0 z-10 h-full overflow-hidden border-r border-b border-rule bg-ground px-4 py-2 max-[1000px]:px-3"
      style={{ width: widthPx }}
    >
      <span className="line-clamp-3 font-display text-[15px] leading-5 font-semibold" title={title}>
        {title}
      </span>
      <span className="figures block text-[12px] text-soft">
        {kind}
        {tally === undefined || tally.judged === 0 ? "" : ` · ${tally.verdicts.pass} of ${tally.judged} pass`}
      </span>
      <Spread promptId={id} known={known} />
      <PlayButton label={`Play the row ${title}`} isPlayed={isPlayed} onPlay={() => onPlay(id)} />
    </div>
  );
});

/** The ratings on a prompt as marks along a line, every row on one scale: far apart where it tells entrants apart. */
function Spread({ promptId, known }: { promptId: string; known: WallKnowledge }) {
  const rated = known.ratingsOn(promptId);
  const spread = known.spreadOf(promptId);
  if (known.range === null || spread === null) return null;
  const [low, high] = known.range;
  const placeOf = (rating: number) => `${((rating - low) / Math.max(1, high - low)) * 100}%`;
  const said = `Ratings on this prompt lie ${Math.round(spread)} points apart, from ${Math.round(rated.at(-1)!.rating)} to ${Math.round(rated[0]!.rating)}`;
  return (
    <span role="img" aria-label={said} title={said} className="relative mt-1.5 mr-6 block h-2 border-b border-rule">
      {rated.map(({ versionId, rating }) => (
        <span key={versionId} className="absolute bottom-0 h-2 w-px bg-ink" style={{ left: placeOf(rating) }} />
      ))}
    </span>
  );
}

/** Out of the tab order: P and Shift P do the same from any cell. */
function PlayButton({ label, isPlayed, onPlay }: { label: string; isPlayed: boolean; onPlay: () => void }) {
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={label}
      aria-pressed={isPlayed}
      title={isPlayed ? "Stop" : "Play in step"}
      onClick={onPlay}
      className={`absolute right-1.5 bottom-1.5 grid size-5 place-items-center rounded border border-rule bg-sheet text-ink hover:border-ink ${isPlayed ? "" : "opacity-0 group-hover:opacity-100 focus-visible:opacity-100"}`}
    >
      <svg viewBox="0 0 10 10" className="size-2.5 fill-current" aria-hidden="true">
        {isPlayed ? <path d="M1 1h3v8H1zM6 1h3v8H6z" /> : <path d="M2 1l7 4-7 4z" />}
      </svg>
    </button>
  );
}

/** The entrants across the top; it stays there while the rows go by. */
export const WallHead = memo(function WallHead({
  entrants,
  columns,
  headPx,
  headHeightPx,
  tallies,
  known,
  playedId,
  onPlay,
}: {
  entrants: Wall["entrants"];
  columns: readonly VirtualItem[];
  headPx: number;
  headHeightPx: number;
  tallies: ReadonlyMap<string, SheetTally>;
  known: WallKnowledge;
  /** The version whose column is played. */
  playedId: string | null;
  onPlay: (versionId: string) => void;
}) {
  const isMixed = !entrants.every(({ sample }) => sample);
  return (
    <div role="row" aria-rowindex={1} className="sticky top-0 z-20 bg-ground" style={{ height: headHeightPx }}>
      <div
        role="columnheader"
        className="sticky left-0 z-10 h-full border-r border-b border-rule bg-ground px-4 pt-11 text-[12px] leading-4 text-soft max-[1000px]:px-3"
        style={{ width: headPx }}
      >
        median time · cost
        <br />
        {known.range === null ? "" : "rating · "}clean first shots
        {tallies.size === 0 ? null : (
          <>
            <br />
            score sheets
          </>
        )}
      </div>
      {columns.map(({ index, start, size }) => (
        <div
          key={entrants[index]!.version.id}
          role="columnheader"
          aria-colindex={index + 2}
          className="group absolute top-0 h-full border-r border-b border-rule bg-ground px-2 py-2"
          style={{ left: start, width: size }}
        >
          <EntrantHead
            entrant={entrants[index]!}
            isMixed={isMixed}
            rating={known.ratingOf(entrants[index]!.version.id)}
            tally={tallies.size === 0 ? null : (tallies.get(entrants[index]!.version.id) ?? NO_SHEETS)}
          />
          <PlayButton
            label={`Play the column ${entrants[index]!.name}`}
            isPlayed={playedId === entrants[index]!.version.id}
            onPlay={() => onPlay(entrants[index]!.version.id)}
          />
        </div>
      ))}
    </div>
  );
});

function EntrantHead({
  entrant: { name, glyph, sample, version, byHand, delivery, cleanShare, medianTotalMs, costPerEntryUsd },
  isMixed,
  rating,
  tally,
}: {
  entrant: Wall["entrants"][number];
  /** Over all prompts, by all ballots; null without any. */
  rating: number | null;
  /** Null where nobody has judged anything on this wall. */
  tally: SheetTally | null;
  /** Whether sample data stands beside data that is none: where all is, the bar at the top says so. */
  isMixed: boolean;
}) {
  return (
    <div className="flex h-full flex-col">
      <span className="flex flex-1 items-start gap-1.5">
        <span className="pt-0.5">
          <EntrantGlyph glyph={glyph} />
        </span>
        <span className="line-clamp-2 font-display text-[14px] leading-[17px] font-semibold" title={name}>
          {name}
          {version.isPresent ? null : (
            <span className="font-sans text-[11px] font-normal text-soft"> {describeVersion(version)}</span>
          )}
        </span>
        {sample && isMixed ? <span className="ml-auto text-[11px] text-care-ink">sample</span> : null}
      </span>
      <span className="figures block truncate text-[12px] leading-4 text-soft">
        {byHand && medianTotalMs === null ? "by hand" : `${formatMs(medianTotalMs)} · ${formatUsd(costPerEntryUsd)}`}
      </span>
      <span
        className="figures mt-0.5 flex items-center gap-1.5 text-[12px] leading-4 text-soft"
        title={`${rating === null ? "" : `Rating by all ballots ${Math.round(rating)}. `}Clean first shots; ${describeDelivery(delivery).long}`}
      >
        {rating === null ? null : <span className="text-ink">{Math.round(rating)}</span>}
        <span className="h-[3px] flex-1 bg-rule">
          <span className="block h-full bg-ink" style={{ width: `${(cleanShare ?? 0) * 100}%` }} />
        </span>
        {formatShare(cleanShare)}
      </span>
      {tally === null ? null : (
        <span
          className="figures mt-0.5 block truncate text-[12px] leading-4 text-soft"
          title={describeTally(tally).long}
        >
          {describeTally(tally).short}
        </span>
      )}
    </div>
  );
}
