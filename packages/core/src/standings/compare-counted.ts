import type { Standing } from "../contract/index.js";

/** Ballots by their ids, each with its lean as it counts. */
export type CountedBallots = ReadonlyMap<string, number>;

/** Which ballots count on one side only, or otherwise than on the other. */
export function compareCounted(
  from: CountedBallots,
  to: CountedBallots,
): { added: string[]; removed: string[]; changed: string[] } {
  const added: string[] = [];
  const changed: string[] = [];
  for (const [id, lean] of to) {
    const before = from.get(id);
    if (before === undefined) added.push(id);
    else if (before !== lean) changed.push(id);
  }
  return { added, changed, removed: [...from.keys()].filter((id) => !to.has(id)) };
}

type Row = Pick<Standing, "entrant" | "version" | "rating" | "halfWidth" | "rankRange" | "ballots">;
const figuresOf = ({ rating, halfWidth, rankRange, ballots }: Row) => ({ rating, halfWidth, rankRange, ballots });

/** The rows of two standings side by side, in the order of the later; who is there no more comes last. */
export function compareRows(from: readonly Row[], to: readonly Row[]) {
  const before = new Map(from.map((row) => [row.version.id, row]));
  const there = new Set(to.map(({ version }) => version.id));
  const sideBySide = (row: Row, earlier: Row | undefined, later: Row | undefined) => ({
    ...{ entrant: row.entrant, version: row.version },
    from: earlier === undefined ? null : figuresOf(earlier),
    to: later === undefined ? null : figuresOf(later),
  });
  return [
    ...to.map((row) => sideBySide(row, before.get(row.version.id), row)),
    ...from.filter(({ version }) => !there.has(version.id)).map((row) => sideBySide(row, row, undefined)),
  ];
}
