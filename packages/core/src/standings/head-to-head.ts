import type { Standings } from "../contract/index.js";

/** How one row of standings did against another. */
export interface HeadToHead {
  ballots: number;
  /** Share of their ballots that leans to the first, an even one counting half; null without ballots. */
  share: number | null;
  /** The same by their ratings; null where they cannot be compared. */
  expected: number | null;
}

const against = (share: number | null): number | null => (share === null ? null : 1 - share);

/** How row i did against row j, whose pair stands once in the standings; null for i = j. */
export function findHeadToHead(
  { rows, headToHead }: Pick<Standings, "rows" | "headToHead">,
  i: number,
  j: number,
): HeadToHead | null {
  if (i === j) return null;
  const [first, second] = [Math.min(i, j), Math.max(i, j)];
  const before = first * rows.length - (first * (first + 1)) / 2;
  const [ballots, share, expected] = headToHead[before + second - first - 1]!;
  return i < j ? { ballots, share, expected } : { ballots, share: against(share), expected: against(expected) };
}
