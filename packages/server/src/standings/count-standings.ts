import { createHash } from "node:crypto";
import type { PromptRatings } from "@tourney/core/contract";
import { type ClusterCounts, rateTallies, RATING_METHOD_VERSION, type RatingTallies } from "@tourney/core/ratings";
import {
  type BallotCounts,
  type Competitor,
  type Counted,
  describePrompts,
  describeStandings,
  findSuccession,
  type Rated,
} from "@tourney/core/standings";
import type { Tallies } from "./repository.js";
import type { WordedPrompt } from "./standings-queries.sql.js";

interface Sided {
  leftVersionId: string;
  rightVersionId: string;
  lean: number;
  n: number;
}

/** The standings of some ballots: pure, so that one input always gives one result. With the fit, for choosing bouts. */
export function countStandings(
  competitors: readonly Competitor[],
  tallies: Tallies,
): { counted: Counted; rated: Rated; numberOf: ReadonlyMap<string, number> } {
  const numberOf = new Map(competitors.map(({ version }, index) => [version.id, index]));
  const rated: Rated = {
    ...rateTallies(competitors.length, toRatingTallies(tallies, numberOf), { pairs: findSuccession(competitors) }),
    counts: countByWording(tallies, numberOf),
  };
  const sample = tallies.prompt.reduce((sum, { sampleN }) => sum + sampleN, 0);
  return { rated, numberOf, counted: describeStandings(competitors, rated, sample) };
}

/** Ratings on each prompt, and on the prompts of each kind and tag. */
export function countByPrompt(
  { rated, counted, numberOf }: ReturnType<typeof countStandings>,
  { prompt }: Tallies,
  prompts: readonly WordedPrompt[],
): PromptRatings {
  const versions = new Map(counted.rows.map((row) => [row.version.id, row]));
  const placeOf = new Map(prompts.map(({ wordingId }, index) => [wordingId, index]));
  const own = prompt.filter(({ wordingId }) => placeOf.has(wordingId));
  return describePrompts(
    [...numberOf.keys()].map((id) => versions.get(id)!),
    { ...rated, counts: toBallotCounts(own, numberOf, ({ wordingId }) => placeOf.get(wordingId)!) },
    prompts,
  );
}

/** Names the counts that a result rests on, and the method: equal digests, equal ratings. */
export const digestTallies = (tallies: Tallies): string =>
  createHash("sha256").update(RATING_METHOD_VERSION).update(JSON.stringify(tallies)).digest("hex");

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

/** Numbers clusters in the order of their first row. */
function numberClusters<T>(clusterOf: (row: T) => string): (row: T) => number {
  const clusters = new Map<string, number>();
  return (row) => {
    const name = clusterOf(row);
    if (!clusters.has(name)) clusters.set(name, clusters.size);
    return clusters.get(name)!;
  };
}

const toBallotCounts = (
  rows: Tallies["prompt"],
  numberOf: ReadonlyMap<string, number>,
  clusterOf: (row: Tallies["prompt"][number]) => number,
): BallotCounts => ({
  ...toColumns(rows, numberOf, clusterOf),
  leftFailures: Int32Array.from(rows, ({ leftFailures }) => leftFailures),
  rightFailures: Int32Array.from(rows, ({ rightFailures }) => rightFailures),
});

const countByWording = ({ prompt }: Tallies, numberOf: ReadonlyMap<string, number>): BallotCounts =>
  toBallotCounts(
    prompt,
    numberOf,
    numberClusters(({ wordingId }) => wordingId),
  );

function toRatingTallies(tallies: Tallies, numberOf: ReadonlyMap<string, number>): RatingTallies {
  const columnsOf = <T extends Sided>(rows: readonly T[], clusterOf: (row: T) => string): ClusterCounts =>
    toColumns(rows, numberOf, numberClusters(clusterOf));
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
