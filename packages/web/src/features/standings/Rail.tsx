import { BallotsLink } from "./BallotsLink.js";
import {
  describeDelivery,
  describeVersion,
  formatRanks,
  nameOfCompetitor,
  type RailScale,
  scaleRail,
} from "@tourney/core/conclusions";
import type { ReactNode } from "react";
import type { Standing, Standings } from "@tourney/core/contract";
import { formatMs, formatShare, formatUsd } from "../../lib/format.js";
import { glyphColor, EntrantGlyph } from "../../ui/glyphs.js";

const ROW_PX = 36;

const COLUMNS: readonly { head: string; value: (row: Standing) => ReactNode; title?: (row: Standing) => string }[] = [
  {
    head: "ballots",
    value: ({ ballots, version }) => (
      <BallotsLink of={{ ofId: version.id }} title="The ballots that its rating is made of">
        {ballots}
      </BallotsLink>
    ),
  },
  {
    head: "delivered",
    value: ({ delivery }) => describeDelivery(delivery).short,
    title: ({ delivery }) => describeDelivery(delivery).long,
  },
  { head: "works", value: ({ worksShare }) => formatShare(worksShare) },
  { head: "first shot", value: ({ cleanShare }) => formatShare(cleanShare) },
  { head: "cost", value: ({ costPerEntryUsd }) => formatUsd(costPerEntryUsd) },
  { head: "time", value: ({ medianTotalMs }) => formatMs(medianTotalMs) },
];

/** The rail and its table in one: each entrant a peg at its rating with its interval, brackets round what cannot be told apart. */
export function Rail({ standings: { rows, brackets } }: { standings: Standings }) {
  const scale = scaleRail(rows);
  return (
    <div className="relative overflow-x-auto">
      <table className="w-full min-w-[1000px] border-collapse text-right">
        <thead>
          <tr className="h-9 border-b border-strong-rule text-[12px] text-soft">
            <th className="w-16 pl-1.5 text-left font-medium">rank</th>
            <th className="w-44 text-left font-medium">entrant</th>
            <th className="relative font-medium" aria-label="rating with its 95 % interval">
              <Ticks scale={scale} />
            </th>
            <th className="w-14" />
            <th className="w-28 font-medium">rating</th>
            {COLUMNS.map(({ head }) => (
              <th key={head} className="w-[76px] font-medium">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <tr key={row.version.id} className="border-b border-rule" style={{ height: ROW_PX }}>
              <td className="pl-1.5 text-left font-display text-[15px] font-semibold whitespace-nowrap">
                {formatRanks(row.rankRange)}
              </td>
              <th scope="row" className="text-left font-normal">
                <span className="flex items-center gap-2 whitespace-nowrap">
                  <EntrantGlyph glyph={row.entrant.glyph} />
                  <span className="font-display font-semibold">{row.entrant.name}</span>
                  {row.version.isPresent ? null : (
                    <span className="text-[12px] text-soft">{describeVersion(row.version)}</span>
                  )}
                </span>
              </th>
              <td className="relative p-0">
                <Gridlines scale={scale} />
                <Peg row={row} scale={scale} />
              </td>
              <td className="relative p-0">
                {brackets.map(([first, last], lane) =>
                  first === index ? <Bracket key={`${first}-${last}`} rows={last - first + 1} lane={lane % 3} /> : null,
                )}
              </td>
              <td className="whitespace-nowrap">
                {row.rating === null ? (
                  "—"
                ) : (
                  <strong className="font-display text-[15px]">{Math.round(row.rating)}</strong>
                )}
                <span className="inline-block w-14 text-soft">
                  {row.halfWidth === null ? "" : `± ${Math.round(row.halfWidth)}`}
                </span>
              </td>
              {COLUMNS.map(({ head, value, title }) => (
                <td key={head} className="whitespace-nowrap" title={title?.(row)}>
                  {value(row)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Ticks({ scale }: { scale: RailScale }) {
  return scale.ticks.map((tick) => (
    <span
      key={tick}
      className="absolute top-1/2 -translate-x-1/2 -translate-y-1/2 max-[1000px]:even:hidden max-sm:not-first:not-last:hidden"
      style={{ left: `${scale.toPercent(tick)}%` }}
    >
      {tick}
    </span>
  ));
}

function Gridlines({ scale }: { scale: RailScale }) {
  return scale.ticks.map((tick) => (
    <span
      key={tick}
      aria-hidden="true"
      className="absolute top-0 bottom-0 w-px bg-rule"
      style={{ left: `${scale.toPercent(tick)}%` }}
    />
  ));
}

function Peg({ row: { rating, halfWidth, entrant, version }, scale }: { row: Standing; scale: RailScale }) {
  if (rating === null)
    return <span className="absolute inset-y-0 left-2 flex items-center text-[13px] text-soft">no ballots yet</span>;
  const at = scale.toPercent(rating);
  const described = `${nameOfCompetitor({ entrant, version })}: ${Math.round(rating)}${halfWidth === null ? ", no interval yet" : `, from ${Math.round(rating - halfWidth)} to ${Math.round(rating + halfWidth)}`}`;
  return (
    <span role="img" aria-label={described} title={described} className="absolute inset-0 block">
      {halfWidth === null ? null : (
        <span
          className="absolute top-1/2 h-2.5 -translate-y-1/2 border-x-[1.5px] border-ink transition-all duration-300"
          style={{
            left: `${scale.toPercent(rating - halfWidth)}%`,
            width: `${scale.toPercent(rating + halfWidth) - scale.toPercent(rating - halfWidth)}%`,
          }}
        >
          <span className="absolute top-1/2 right-0 left-0 h-[1.5px] -translate-y-1/2 bg-ink" />
        </span>
      )}
      <span
        className="absolute top-1/2 -translate-x-1/2 -translate-y-1/2 rounded-full bg-ground p-0.5 transition-all duration-300"
        style={{ left: `${at}%`, color: glyphColor(entrant.glyph) }}
      >
        <EntrantGlyph glyph={entrant.glyph} size={15} />
      </span>
    </span>
  );
}

/** Spans the rows that cannot be told apart; runs that overlap stand in lanes side by side. */
function Bracket({ rows, lane }: { rows: number; lane: number }) {
  return (
    <span
      aria-hidden="true"
      className="absolute w-1.5 border-y-2 border-r-2 border-care"
      style={{ top: ROW_PX * 0.28, height: (rows - 1) * (ROW_PX + 1) + ROW_PX * 0.44, left: 10 + lane * 12 }}
    />
  );
}
