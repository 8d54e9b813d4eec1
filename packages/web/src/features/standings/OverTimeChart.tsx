import { nameOfCompetitor } from "@tourney/core/conclusions";
import type { RatingsOverTime, Standing } from "@tourney/core/contract";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { formatDay } from "../../lib/format.js";
import { glyphColor, glyphPath } from "../../ui/glyphs.js";

const HEIGHT_PX = 340;
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
  // The best first, so a name is moved down where the one above it is too near.
  const offsets = new Map<string, number>();
  let lowest = -Infinity;
  return (
    <div role="img" aria-label={`Ratings after more and more ballots, in the end: ${described}`}>
      <ResponsiveContainer width="100%" height={HEIGHT_PX}>
        <LineChart data={data} margin={{ top: 16, right: 150, bottom: 8, left: 0 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <XAxis
            type="number"
            dataKey="along"
            domain={[along === "ballots" ? 0 : "dataMin", "dataMax"]}
            tickFormatter={(value: number) =>
              along === "ballots" ? value.toLocaleString("en") : formatDay(new Date(value).toISOString())
            }
            tick={TICK}
            stroke="var(--strong-rule)"
          />
          <YAxis type="number" domain={["auto", "auto"]} tick={TICK} stroke="var(--strong-rule)" />
          {shown.map((row) => (
            <Line
              key={row.version.id}
              dataKey={row.version.id}
              type="linear"
              stroke={glyphColor(row.entrant.glyph)}
              strokeWidth={1.5}
              isAnimationActive={false}
              connectNulls
              activeDot={false}
              dot={({ cx, cy, index }: { cx?: number; cy?: number; index?: number }) => {
                if (index !== data.length - 1 || cx === undefined || cy === undefined || Number.isNaN(cy))
                  return <g key={index} />;
                const at = offsets.get(row.version.id) ?? Math.max(cy, lowest + NAME_PX);
                if (!offsets.has(row.version.id)) lowest = at;
                offsets.set(row.version.id, at);
                return <End key={index} x={cx} y={cy} nameY={at} row={row} />;
              }}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}

function End({ x, y, nameY, row }: { x: number; y: number; nameY: number; row: Standing }) {
  const { glyph } = row.entrant;
  return (
    <g>
      <g transform={`translate(${x} ${y}) scale(${GLYPH_PX / 16}) translate(-8 -8)`}>
        <circle cx={8} cy={8} r={9} fill="var(--ground)" />
        <path d={glyphPath(glyph)} style={{ fill: glyphColor(glyph) }} fillRule="evenodd" />
      </g>
      <text x={x + 12} y={nameY + 4} fill="var(--ink)" fontSize={13}>
        {nameOfCompetitor(row)}
      </text>
    </g>
  );
}
