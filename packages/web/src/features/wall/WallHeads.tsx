import type { Wall } from "@tourney/core/contract";
import { type SheetTally, tallySheets } from "@tourney/core/sheets";
import type { VirtualItem } from "@tanstack/react-virtual";
import { describeDelivery, describeVersion } from "../../lib/competitor-words.js";
import { formatMs, formatShare, formatUsd } from "../../lib/format.js";
import { describeTally } from "../../lib/tally-words.js";
import { EntrantGlyph } from "../../ui/glyphs.js";

const NO_SHEETS = tallySheets([]);

/** A prompt at the left of its row. */
export function RowHead({
  prompt: { title, kind },
  widthPx,
  tally,
}: {
  prompt: Wall["prompts"][number];
  widthPx: number;
  tally: SheetTally | undefined;
}) {
  return (
    <div
      role="rowheader"
      className="sticky left-0 z-10 h-full overflow-hidden border-r border-b border-rule bg-ground px-4 py-2 max-[1000px]:px-3"
      style={{ width: widthPx }}
    >
      <span className="line-clamp-3 font-display text-[15px] leading-5 font-semibold" title={title}>
        {title}
      </span>
      <span className="figures block text-[12px] text-soft">
        {kind}
        {tally === undefined || tally.judged === 0 ? "" : ` · ${tally.verdicts.pass} of ${tally.judged} pass`}
      </span>
    </div>
  );
}

/** The entrants across the top; it stays there while the rows go by. */
export function WallHead({
  entrants,
  columns,
  headPx,
  headHeightPx,
  tallies,
}: {
  entrants: Wall["entrants"];
  columns: readonly VirtualItem[];
  headPx: number;
  headHeightPx: number;
  tallies: ReadonlyMap<string, SheetTally>;
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
        clean first shots
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
          className="absolute top-0 h-full border-r border-b border-rule bg-ground px-2 py-2"
          style={{ left: start, width: size }}
        >
          <EntrantHead
            entrant={entrants[index]!}
            isMixed={isMixed}
            tally={tallies.size === 0 ? null : (tallies.get(entrants[index]!.version.id) ?? NO_SHEETS)}
          />
        </div>
      ))}
    </div>
  );
}

function EntrantHead({
  entrant: { name, glyph, sample, version, byHand, delivery, cleanShare, medianTotalMs, costPerEntryUsd },
  isMixed,
  tally,
}: {
  entrant: Wall["entrants"][number];
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
        title={`Clean first shots; ${describeDelivery(delivery).long}`}
      >
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
