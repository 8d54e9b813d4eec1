import { createHash } from "node:crypto";
import type { Standing, Standings } from "@tourney/core/contract";
import {
  type ClusterCounts,
  type PromptRating,
  ratePrompts,
  rateTallies,
  RATING_METHOD_VERSION,
  type RatingFit,
  type Ratings,
  type RatingTallies,
} from "@tourney/core/ratings";
import type { Tallies } from "./repository.js";

/** What the standings say of a competitor apart from its rating. */
export type EntrantFigures = Pick<
  Standing,
  "entrant" | "version" | "delivery" | "cleanShare" | "costPerEntryUsd" | "medianTotalMs"
>;

export type Counted = Omit<
  Standings,
  "edition" | "kind" | "countedAt" | "sources" | "versions" | "formerVersions" | "setAside"
>;

interface Sided {
  leftVersionId: string;
  rightVersionId: string;
  lean: number;
  n: number;
}

/** The standings of some ballots: pure, so that one input always gives one result. With the fit, for choosing bouts. */
export function countStandings(
  entrants: readonly EntrantFigures[],
  tallies: Tallies,
): { counted: Counted; fit: RatingFit; numberOf: ReadonlyMap<string, number> } {
  const numberOf = new Map(entrants.map(({ version }, index) => [version.id, index]));
  const { ratings, fit } = rateTallies(entrants.length, toRatingTallies(tallies, numberOf));
  const works = worksShares(tallies, numberOf);
  const total = sum(tallies.prompt, ({ n }) => n);
  return {
    fit,
    numberOf,
    counted: {
      methodVersion: ratings.methodVersion,
      ballots: total,
      sampleBallots: sum(tallies.prompt, ({ sampleN }) => sampleN),
      voters: ratings.clusters.voters,
      prompts: ratings.clusters.prompts,
      components: new Set(ratings.entrants.map(({ component }) => component).filter((component) => component !== -1))
        .size,
      side: ratings.side,
      forecast: nameForecast(ratings.forecast, entrants),
      rows: ratings.order.map((index) => ({
        ...entrants[index]!,
        ...ratings.entrants[index]!,
        worksShare: works[index]!,
      })),
      brackets: ratings.brackets,
      headToHead: headToHead(ratings.order, tallies, numberOf),
    },
  };
}

/**
 * Ratings on some wordings, by the fit of all ballots.
 *
 * @returns by wording and entrant, both in the order in which they are given; null without ballots.
 */
export function countByPrompt(
  { fit, numberOf }: Pick<ReturnType<typeof countStandings>, "fit" | "numberOf">,
  { prompt }: Tallies,
  wordingIds: readonly string[],
): (PromptRating | null)[][] {
  const placeOf = new Map(wordingIds.map((id, index) => [id, index]));
  const rows = prompt.filter(({ wordingId }) => placeOf.has(wordingId));
  return ratePrompts(
    fit,
    toColumns(rows, numberOf, ({ wordingId }) => placeOf.get(wordingId)!),
    wordingIds.length,
  );
}

function nameForecast(forecast: Ratings["forecast"], entrants: readonly EntrantFigures[]): Counted["forecast"] {
  if (forecast === null) return null;
  const { first, second, ballots, needs } = forecast;
  return { firstId: entrants[first]!.version.id, secondId: entrants[second]!.version.id, ballots, needs };
}

/** Names the counts that a result rests on, and the method: equal digests, equal ratings. */
export const digestTallies = (tallies: Tallies): string =>
  createHash("sha256").update(RATING_METHOD_VERSION).update(JSON.stringify(tallies)).digest("hex");

const sum = <T>(items: readonly T[], valueOf: (item: T) => number): number =>
  items.reduce((total, item) => total + valueOf(item), 0);

function toColumns<T extends Sided>(
  rows: readonly T[],
  numberOf: ReadonlyMap<string, number>,
  clusterOf: (row: T) => number,
): ClusterCounts {
  return {
    cluster: Int32Array.from(rows, clusterOf),
    left: Int32Array.from(rows, ({ leftVersionId }) => numberOf.get(leftVersionId)!),
    right: Int32Array.from(rows, ({ rightVersionId }) => numberOf.get(rightVersionId)!),
    // Lean −2 (left by far) … 2 (right by far) is outcome 1 … 5.
    outcome: Int32Array.from(rows, ({ lean }) => lean + 3),
    n: Int32Array.from(rows, ({ n }) => n),
  };
}

function toRatingTallies(tallies: Tallies, numberOf: ReadonlyMap<string, number>): RatingTallies {
  const columnsOf = <T extends Sided>(rows: readonly T[], clusterOf: (row: T) => string): ClusterCounts => {
    const clusters = new Map<string, number>();
    return toColumns(rows, numberOf, (row) => {
      const name = clusterOf(row);
      if (!clusters.has(name)) clusters.set(name, clusters.size);
      return clusters.get(name)!;
    });
  };
  const keyOf = ({ leftVersionId, rightVersionId, lean }: Sided) => `${leftVersionId} ${rightVersionId} ${lean}`;
  // Those of voters with several ballots on a prompt are taken out of all, which leaves those that are alone.
  const alone = new Map<string, Sided>();
  for (const { n, ...row } of tallies.prompt) {
    const key = keyOf({ ...row, n });
    alone.set(key, { ...row, n: (alone.get(key)?.n ?? 0) + n });
  }
  for (const row of tallies.cell) {
    const rest = alone.get(keyOf(row));
    if (rest) rest.n -= row.n;
  }
  return {
    counts: columnsOf(tallies.prompt, () => ""),
    voter: columnsOf(tallies.voter, ({ voterId }) => voterId),
    prompt: columnsOf(tallies.prompt, ({ wordingId }) => wordingId),
    cell: columnsOf(tallies.cell, ({ voterId, wordingId }) => `${voterId} ${wordingId}`),
    single: columnsOf([...alone.values()], () => ""),
  };
}

/** Per entrant the share of its ballots on which nobody marked it as not working. */
function worksShares({ prompt }: Tallies, numberOf: ReadonlyMap<string, number>): (number | null)[] {
  const shown = new Float64Array(numberOf.size);
  const failed = new Float64Array(numberOf.size);
  for (const { leftVersionId, rightVersionId, n, leftFailures, rightFailures } of prompt) {
    for (const [id, failures] of [
      [leftVersionId, leftFailures],
      [rightVersionId, rightFailures],
    ] as const) {
      shown[numberOf.get(id)!]! += n;
      failed[numberOf.get(id)!]! += failures;
    }
  }
  return Array.from(shown, (total, i) => (total === 0 ? null : (total - failed[i]!) / total));
}

function headToHead(
  order: readonly number[],
  { prompt }: Tallies,
  numberOf: ReadonlyMap<string, number>,
): Standings["headToHead"] {
  const position = new Map(order.map((entrant, row) => [entrant, row]));
  const cells = order.map(() => order.map(() => ({ ballots: 0, points: 0 })));
  for (const { leftVersionId, rightVersionId, lean, n } of prompt) {
    const [l, r] = [position.get(numberOf.get(leftVersionId)!)!, position.get(numberOf.get(rightVersionId)!)!];
    const leftPoints = lean < 0 ? 1 : lean === 0 ? 0.5 : 0;
    for (const [row, column, points] of [
      [l, r, leftPoints],
      [r, l, 1 - leftPoints],
    ] as const) {
      cells[row]![column]!.ballots += n;
      cells[row]![column]!.points += n * points;
    }
  }
  return cells.map((row) => row.map(({ ballots: n, points }) => ({ ballots: n, share: n === 0 ? null : points / n })));
}
