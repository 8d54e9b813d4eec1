import { nameOfCompetitor } from "@tourney/core/conclusions";
import type { PromptRatings, Standings } from "@tourney/core/contract";
import { findHeadToHead, type HeadToHead as Met } from "@tourney/core/standings";
import { Popover } from "radix-ui";
import { memo, type RefObject, useCallback, useRef, useState } from "react";
import { count } from "../../lib/format.js";
import { useNearSight } from "../../lib/near-sight.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { BallotsLink } from "./BallotsLink.js";
import { PairPrompts } from "./PairPrompts.js";

/** Below this many ballots a share is shaded faintly and in italics: it is little more than chance. */
const FEW_BALLOTS = 5;

/** Shares of leans between each two entrants, figures in shaded cells. */
export function HeadToHead({ standings, ratings }: { standings: Standings; ratings: PromptRatings | undefined }) {
  const { rows } = standings;
  const [opened, setOpened] = useState<Pair | null>(null);
  const cell = useRef<HTMLElement | null>(null);
  const onOpen = useCallback((pair: Pair, of: HTMLElement) => {
    cell.current = of;
    setOpened((before) => (before?.every((id, i) => id === pair[i]) === true ? null : pair));
  }, []);
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
            {rows.map(({ version }, i) => (
              <Row
                key={version.id}
                {...{ standings, i, onOpen }}
                opened={opened?.[0] === version.id ? opened[1] : null}
              />
            ))}
          </tbody>
        </table>
      </div>
      <Fit standings={standings} />
      <Together {...{ standings, ratings, opened, cell }} onClose={() => setOpened(null)} />
    </section>
  );
}

/** Ids of two versions: rows may change their places while a cell is open. */
type Pair = readonly [own: string, other: string];

interface RowProps {
  standings: Standings;
  i: number;
  /** Against whom the cell is open. */
  opened: string | null;
  onOpen: (pair: Pair, cell: HTMLElement) => void;
}

/** How one did against each other. Of fifty rows those near sight are drawn, and when a cell opens or closes its row alone is drawn again. */
const Row = memo(function Row({ standings, i, opened, onOpen }: RowProps) {
  const { rows } = standings;
  const own = rows[i]!.version.id;
  const [isNear, ref] = useNearSight();
  return (
    <tr ref={ref}>
      <th scope="row" className="sticky left-0 z-[1] w-36 bg-ground text-left font-normal whitespace-nowrap">
        {nameOfCompetitor(rows[i])}
      </th>
      {isNear ? (
        rows.map(({ version }, j) => {
          const met = findHeadToHead(standings, i, j);
          return met === null ? (
            <td key={version.id} className="h-7 bg-rule" />
          ) : (
            <ShareCell
              key={version.id}
              {...met}
              title={describePair(standings, i, j)}
              isOpen={opened === version.id}
              onOpen={(cell) => onOpen([own, version.id], cell)}
            />
          );
        })
      ) : (
        <td colSpan={rows.length} className="h-7" />
      )}
    </tr>
  );
});

function describePair(standings: Standings, i: number, j: number): string {
  const { ballots, expected } = findHeadToHead(standings, i, j)!;
  const names = [i, j].map((row) => nameOfCompetitor(standings.rows[row]));
  return `${names.join(" against ")}: ${count(ballots, "ballot")}${expected === null ? "" : `, ${Math.round(expected * 100)} expected by their ratings`}`;
}

const namePair = ({ rows }: Standings, pair: Pair): string =>
  pair.map((id) => nameOfCompetitor(rows.find(({ version }) => version.id === id))).join(" against ");

interface TogetherProps {
  standings: Standings;
  ratings: PromptRatings | undefined;
  opened: Pair | null;
  /** The cell that was opened last. */
  cell: RefObject<HTMLElement | null>;
  onClose: () => void;
}

/** What a cell opens: its ballots, and the prompts on which the two can be compared. One for all cells, of which there may be thousands. */
function Together({ standings, ratings, opened, cell, onClose }: TogetherProps) {
  const isOfCell = (target: EventTarget | null) => target instanceof Node && cell.current?.contains(target) === true;
  return (
    <Popover.Root open={opened !== null} onOpenChange={(isOpen) => (isOpen ? undefined : onClose())}>
      <Popover.Anchor virtualRef={cell} />
      <Popover.Portal>
        <Popover.Content
          aria-label={opened === null ? undefined : namePair(standings, opened)}
          sideOffset={4}
          // The cell closes by its own click what it has opened.
          onInteractOutside={(event) => (isOfCell(event.target) ? event.preventDefault() : undefined)}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            if (document.activeElement === document.body) cell.current?.focus();
          }}
          className="z-40 max-h-[60vh] w-72 overflow-auto rounded border border-rule bg-sheet py-2 text-[13px] shadow-lg"
        >
          {opened === null ? null : <OfPair {...{ standings, ratings }} pair={opened} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function OfPair({ standings, ratings, pair }: Pick<TogetherProps, "standings" | "ratings"> & { pair: Pair }) {
  const { edition, rows } = standings;
  const [i, j] = pair.map((id) => rows.findIndex(({ version }) => version.id === id)) as [number, number];
  const met = i === -1 || j === -1 ? null : findHeadToHead(standings, i, j);
  if (met === null) return <p className="m-0 px-3 text-soft">They are not in these standings any more.</p>;
  return (
    <>
      <p className="m-0 px-3 pb-1 text-soft">
        {describePair(standings, i, j)}. Compare on a prompt; the number is how far the first is ahead there.
      </p>
      <p className="m-0 border-b border-rule px-3 pb-2">
        <BallotsLink of={{ ofId: pair[0], againstId: pair[1] }}>{count(met.ballots, "ballot")} one by one</BallotsLink>
      </p>
      <PairPrompts {...{ editionId: edition.id, ratings }} versionIds={pair} />
    </>
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

interface ShareCellProps extends Pick<Met, "share" | "ballots"> {
  title: string;
  isOpen: boolean;
  onOpen: (cell: HTMLElement) => void;
}

function ShareCell({ share, ballots, title, isOpen, onOpen }: ShareCellProps) {
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
      <button
        type="button"
        aria-haspopup="dialog"
        aria-expanded={isOpen}
        aria-label={`${Math.round(share * 100)}: ${title}. Compare them`}
        onClick={({ currentTarget }) => onOpen(currentTarget)}
        className={`figures size-full border-0 bg-transparent text-ink hover:underline ${isFew ? "italic" : ""}`}
      >
        {Math.round(share * 100)}
      </button>
    </td>
  );
}
