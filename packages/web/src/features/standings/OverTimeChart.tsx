import { nameOfCompetitor } from "@tourney/core/conclusions";
import type { RatingsOverTime, Standing } from "@tourney/core/contract";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { formatDay } from "../../lib/format.js";
import { glyphColor, glyphPath } from "../../ui/glyphs.js";

const HEIGHT_PX = 340;
const MARGIN = { top: 16, right: 150, bottom: 8, left: 0 };
const AXIS_PX = 30;
const PLOT_PX = HEIGHT_PX - MARGIN.top - MARGIN.bottom - AXIS_PX;
const GLYPH_PX = 12;
const TICK = { fill: "var(--soft)", fontSize: 12 };
/** Names at the ends of lines keep this far from each other, in pixels. */
const NAME_PX = 16;

export type Along = "ballots" | "days";

/** A line for each entrant, its glyph and name at the end. */
export function OverTimeChart({
  steps,
  versionIds,
  rows,
  along,
}: RatingsOverTime & { rows: readonly Standing[]; along: Along }) {
  const data = steps.map(({ ballots, at, ratings }) => ({
    along: along === "ballots" ? ballots : Date.parse(at),
    ...Object.fromEntries(versionIds.map((id, index) => [id, ratings[index]!.rating])),
  }));
  const shown = rows.filter(({ version, rating }) => rating !== null && versionIds.includes(version.id));
  const described = shown.map((row) => `${nameOfCompetitor(row)} ${Math.round(row.rating!)}`).join(", ");
  const all = steps.flatMap(({ ratings }) => ratings.flatMap(({ rating }) => rating ?? []));
  const [low, high] = [Math.floor((Math.min(...all) - 50) / 100) * 100, Math.ceil((Math.max(...all) + 50) / 100) * 100];
  const shifts = shiftNames(
    shown.map(({ rating }) => rating!),
    PLOT_PX / (high - low),
  );
  return (
    <div role="img" aria-label={`Ratings after more and more ballots, in the end: ${described}`}>
      <ResponsiveContainer width="100%" height={HEIGHT_PX}>
        <LineChart data={data} margin={MARGIN} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <XAxis
            height={AXIS_PX}
            type="number"
            dataKey="along"
            domain={[along === "ballots" ? 0 : "dataMin", "dataMax"]}
            tickFormatter={(value: number) =>
              along === "ballots" ? value.toLocaleString("en") : formatDay(new Date(value).toISOString())
            }
            tick={TICK}
            stroke="var(--strong-rule)"
          />
          <YAxis type="number" domain={[low, high]} tick={TICK} stroke="var(--strong-rule)" />
          {shown.map((row, place) => (
            <Line
              key={row.version.id}
              dataKey={row.version.id}
              type="linear"
              stroke={glyphColor(row.entrant.glyph)}
              strokeWidth={1.5}
              isAnimationActive={false}
              connectNulls
              activeDot={false}
              dot={({ cx, cy, index }: { cx?: number; cy?: number; index?: number }) =>
                index !== data.length - 1 || cx === undefined || cy === undefined || Number.isNaN(cy) ? (
                  <g key={index} />
                ) : (
                  <End key={index} x={cx} y={cy} shift={shifts[place]!} row={row} />
                )
              }
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}

/** By how much each name is moved down from the end of its line, so that none covers the one above. @param ratings best first. */
function shiftNames(ratings: readonly number[], pixelsPerPoint: number): number[] {
  const best = ratings[0] ?? 0;
  let lowest = -Infinity;
  return ratings.map((rating) => {
    const own = (best - rating) * pixelsPerPoint;
    lowest = Math.max(own, lowest + NAME_PX);
    return lowest - own;
  });
}

function End({ x, y, shift, row }: { x: number; y: number; shift: number; row: Standing }) {
  const { glyph } = row.entrant;
  return (
    <g>
      <g transform={`translate(${x} ${y}) scale(${GLYPH_PX / 16}) translate(-8 -8)`}>
        <circle cx={8} cy={8} r={9} fill="var(--ground)" />
        <path d={glyphPath(glyph)} style={{ fill: glyphColor(glyph) }} fillRule="evenodd" />
      </g>
      <text x={x + 12} y={y + shift + 4} fill="var(--ink)" fontSize={13}>
        {nameOfCompetitor(row)}
      </text>
    </g>
  );
}
