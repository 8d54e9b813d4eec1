import { nameOfCompetitor, type RailScale, type RatedRow, THIN_BALLOTS } from "@tourney/core/conclusions";
import { useNearSight } from "../../lib/near-sight.js";
import { EntrantGlyph, glyphColor } from "../../ui/glyphs.js";

/** All entrants on one line, each its glyph at its rating; those with few ballots are faint. Its marks are drawn when it comes near sight: a hundred lines of fifty are many. */
export function SmallRail({ name, rated, scale }: { name: string; rated: readonly RatedRow[]; scale: RailScale }) {
  const described = rated
    .map(({ row, rating, ballots }) => `${nameOfCompetitor(row)} ${Math.round(rating)} on ${ballots} ballots`)
    .join(", ");
  const [isNear, ref] = useNearSight();
  return (
    <span ref={ref} role="img" aria-label={`${name}: ${described}`} className="relative block h-5">
      {isNear ? <Marks {...{ rated, scale }} /> : null}
    </span>
  );
}

function Marks({ rated, scale }: { rated: readonly RatedRow[]; scale: RailScale }) {
  return (
    <>
      {scale.ticks.map((tick) => (
        <span key={tick} className="absolute inset-y-0 w-px bg-rule" style={{ left: `${scale.toPercent(tick)}%` }} />
      ))}
      {rated.toReversed().map(({ row, rating, halfWidth, ballots }) => (
        <span
          key={row.version.id}
          title={`${nameOfCompetitor(row)}: ${Math.round(rating)} ± ${Math.round(halfWidth)} on ${ballots} ballots${ballots < THIN_BALLOTS ? ", which is little" : ""}`}
          className={`absolute top-1/2 -translate-x-1/2 -translate-y-1/2 ${ballots < THIN_BALLOTS ? "opacity-40" : ""}`}
          style={{ left: `${scale.toPercent(rating)}%`, color: glyphColor(row.entrant.glyph) }}
        >
          <EntrantGlyph glyph={row.entrant.glyph} size={12} />
        </span>
      ))}
    </>
  );
}

/** The ratings that the lines of a table stand on. */
export function RailTicks({ scale }: { scale: RailScale }) {
  return (
    <span aria-hidden="true" className="figures relative block h-4">
      {scale.ticks.map((tick) => (
        <span
          key={tick}
          className="absolute -translate-x-1/2 max-[1000px]:even:hidden"
          style={{ left: `${scale.toPercent(tick)}%` }}
        >
          {tick}
        </span>
      ))}
    </span>
  );
}
