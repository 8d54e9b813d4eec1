import { nameOfCompetitor } from "@tourney/core/conclusions";
import type { PromptRatings, Standings } from "@tourney/core/contract";
import { findHeadToHead } from "@tourney/core/standings";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { count } from "../../lib/format.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { BallotsLink } from "./BallotsLink.js";
import { PairPrompts } from "./PairPrompts.js";

/** Below this many ballots a share is shaded faintly and in italics: it is little more than chance. */
const FEW_BALLOTS = 5;

/** Shares of leans between each two entrants, figures in shaded cells. */
export function HeadToHead({ standings, ratings }: { standings: Standings; ratings: PromptRatings | undefined }) {
  const { edition, rows } = standings;
  return (
    <section aria-labelledby="head-to-head" className="min-w-0">
      <h2 id="head-to-head" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        Head to head{" "}
        <span className="font-sans text-[13px] font-normal text-soft">
          share of ballots leaning to the row, even counts half
        </span>
      </h2>
      <div className="relative overflow-x-auto">
        {/* Where entrants are many the table is scrolled, so that two figures have room in each cell. */}
        <table
          className="mt-2 w-full table-fixed border-separate border-spacing-0.5 text-center"
          style={{ minWidth: `${9 + 1.6 * rows.length}rem` }}
        >
          <thead>
            <tr>
              <td className="sticky left-0 z-[1] w-36 bg-ground" />
              {rows.map(({ entrant, version }) => (
                <th
                  key={version.id}
                  scope="col"
                  className="pb-1 font-normal"
                  title={nameOfCompetitor({ entrant, version })}
                >
                  <span className="grid justify-items-center">
                    <EntrantGlyph glyph={entrant.glyph} />
                    <span className="sr-only">{nameOfCompetitor({ entrant, version })}</span>
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ entrant, version }, i) => (
              <tr key={version.id}>
                <th scope="row" className="sticky left-0 z-[1] w-36 bg-ground text-left font-normal whitespace-nowrap">
                  {nameOfCompetitor({ entrant, version })}
                </th>
                {rows.map((other, j) => {
                  const met = findHeadToHead(standings, i, j);
                  if (met === null) return <td key={other.version.id} className="h-7 bg-rule" />;
                  const { ballots, expected } = met;
                  return (
                    <ShareCell
                      key={other.version.id}
                      {...met}
                      title={`${nameOfCompetitor({ entrant, version })} against ${nameOfCompetitor(other)}: ${count(ballots, "ballot")}${expected === null ? "" : `, ${Math.round(expected * 100)} expected by their ratings`}`}
                    >
                      <p className="m-0 border-b border-rule px-3 pb-2">
                        <BallotsLink of={{ ofId: version.id, againstId: other.version.id }}>
                          {count(ballots, "ballot")} one by one
                        </BallotsLink>
                      </p>
                      <PairPrompts
                        {...{ editionId: edition.id, ratings }}
                        versionIds={[version.id, other.version.id]}
                      />
                    </ShareCell>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Fit standings={standings} />
    </section>
  );
}

/** So many pairs are named on which ballots and ratings part most. */
const MOST_NAMED = 3;
/** Pairs with fewer ballots part by chance, and nobody minds less than this. */
const ENOUGH_BALLOTS = 20;
const LEAST_DIFFERENCE = 0.05;

/** Where the ratings tell the ballots badly: pairs that went otherwise than expected, and circles, which no list can show. */
function Fit({ standings }: { standings: Standings }) {
  const { rows, circles } = standings;
  const nameOf = (row: number) => nameOfCompetitor(rows[row]);
  const apart = rows
    .flatMap((_, i) =>
      rows.flatMap((__, j) => {
        const { ballots = 0, share = null, expected = null } = findHeadToHead(standings, i, j) ?? {};
        return share === null || expected === null || ballots < ENOUGH_BALLOTS || share - expected < LEAST_DIFFERENCE
          ? []
          : [{ i, j, ballots, share, expected }];
      }),
    )
    .toSorted((a, b) => b.share - b.expected - (a.share - a.expected))
    .slice(0, MOST_NAMED);
  const couldCircle = rows.filter(({ rating }) => rating !== null).length > 2;
  if (apart.length === 0 && !couldCircle) return null;
  return (
    <div className="mt-3 text-[13px] text-soft">
      {apart.length === 0 ? null : (
        <p className="m-0">
          Furthest from what the ratings expect:{" "}
          {apart
            .map(
              ({ i, j, ballots, share, expected }) =>
                `${nameOf(i)} against ${nameOf(j)}, ${Math.round(share * 100)} where ${Math.round(expected * 100)} is expected (${count(ballots, "ballot")})`,
            )
            .join("; ")}
          .
        </p>
      )}
      {couldCircle ? (
        <p className="m-0">
          {circles.length === 0
            ? "No circles: nowhere does one beat a second, the second a third, and the third the first, each by more than chance gives once in twenty times."
            : `In a circle, which no order can show: ${circles.map((circle) => [...circle, circle[0]].map(nameOf).join(" over ")).join("; ")}. With many entrants a few come by chance.`}
        </p>
      ) : null}
    </div>
  );
}

function ShareCell({
  share,
  ballots,
  title,
  children,
}: {
  share: number | null;
  ballots: number;
  title: string;
  /** What a click opens. */
  children: ReactNode;
}) {
  if (share === null) {
    return (
      <td className="h-7 text-soft" title={title}>
        ·
      </td>
    );
  }
  // Shade by the distance from an even share, towards verdigris above and vermilion below.
  // Where ballots are few the shade is faint, not the figure: that must be legible on any shade.
  const isFew = ballots < FEW_BALLOTS;
  const strength = Math.round(Math.abs(share - 0.5) * 2 * (isFew ? 25 : 62));
  const hue = share >= 0.5 ? "var(--sound)" : "var(--act)";
  return (
    <td
      className="h-7 p-0"
      title={title}
      style={{ background: `color-mix(in oklab, ${hue} ${strength}%, var(--ground))` }}
    >
      <Popover.Root>
        <Popover.Trigger
          aria-label={`${Math.round(share * 100)}: ${title}. Compare them`}
          className={`figures size-full border-0 bg-transparent text-ink hover:underline ${isFew ? "italic" : ""}`}
        >
          {Math.round(share * 100)}
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            sideOffset={4}
            className="z-40 max-h-[60vh] w-72 overflow-auto rounded border border-rule bg-sheet py-2 text-[13px] shadow-lg"
          >
            <p className="m-0 px-3 pb-1 text-soft">
              {title}. Compare on a prompt; the number is how far the first is ahead there.
            </p>
            {children}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </td>
  );
}
