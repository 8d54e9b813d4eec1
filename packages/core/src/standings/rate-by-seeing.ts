import type { RatingsBySeeing } from "../contract/index.js";
import { type ClusterCounts, rateCategories } from "../ratings/index.js";

/** Ballots of one group of voters' set-ups on one pair, with one lean from −2 to 2. Competitors are meant by their numbers. */
export interface SeenBallots {
  by: RatingsBySeeing[number]["by"];
  name: string;
  left: number;
  right: number;
  lean: number;
  n: number;
}

/**
 * Ratings within each group of set-ups that ballots were cast with, where there are two groups or more: as by kind, drawn towards the rating over all
 * groups, the more the fewer ballots there are.
 *
 * @param versionIds of the competitors, by their numbers.
 */
export function rateBySeeing(versionIds: readonly string[], ballots: readonly SeenBallots[]): RatingsBySeeing {
  const sorts = [...new Set(ballots.map(({ by }) => by))];
  return sorts.flatMap((by) => {
    const own = ballots.filter((row) => row.by === by);
    const names = [...new Set(own.map(({ name }) => name))].toSorted();
    if (names.length < 2) return [];
    const counts: ClusterCounts = {
      cluster: Int32Array.from(own, ({ name }) => names.indexOf(name)),
      left: Int32Array.from(own, ({ left }) => left),
      right: Int32Array.from(own, ({ right }) => right),
      // Lean −2 (left by far) … 2 (right by far) is outcome 1 … 5.
      outcome: Int32Array.from(own, ({ lean }) => lean + 3),
      n: Float64Array.from(own, ({ n }) => n),
    };
    const rated = rateCategories(versionIds.length, counts, [...names.keys()]);
    return names.map((name, group) => ({
      ...{ by, name },
      ballots: own.reduce((sum, row) => sum + (row.name === name ? row.n : 0), 0),
      ratings: (rated[group] ?? []).flatMap((one, index) =>
        one === null ? [] : [{ versionId: versionIds[index]!, ...one }],
      ),
    }));
  });
}
