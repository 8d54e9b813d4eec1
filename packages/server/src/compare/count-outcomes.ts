import type { ComparableEntry } from "@tourney/core/contract";
import { readLean, readSign } from "../ballots/ballot-queries.sql.js";
import type { BallotTable } from "../ballots/ballot-table.js";

export type Outcome = Pick<ComparableEntry, "won" | "lost" | "even">;

/** By entry how many ballots between entrants leaned to it, away from it, and to neither. A bout that was shown a second time counts once. */
export function countOutcomes({ entries, columns }: Pick<BallotTable, "entries" | "columns">): Map<string, Outcome> {
  const outcomes = entries.map((): Outcome => ({ won: 0, lost: 0, even: 0 }));
  for (let b = 0; b < columns.signs.length; b++) {
    const signs = columns.signs[b]!;
    if (readSign(signs, "isRated") === 0 || readSign(signs, "isRepeat") === 1) continue;
    const [left, right] = [outcomes[columns.left[b]!]!, outcomes[columns.right[b]!]!];
    const lean = readLean(signs);
    if (lean === 0) {
      left.even++;
      right.even++;
    } else {
      (lean < 0 ? left : right).won++;
      (lean < 0 ? right : left).lost++;
    }
  }
  return new Map(entries.map(({ id }, place) => [id, outcomes[place]!]));
}
