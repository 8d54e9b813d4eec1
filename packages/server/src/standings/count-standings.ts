import { createHash } from "node:crypto";
import type { PromptRatings, Standing, Standings } from "@tourney/core/contract";
import {
  type ClusterCounts,
  expectShare,
  findCircles,
  measureAgreement,
  type PromptRating,
  rateCategories,
  ratePrompts,
  rateTallies,
  RATING_METHOD_VERSION,
  type RatingFit,
  type Ratings,
  type RatingTallies,
} from "@tourney/core/ratings";
import type { Tallies } from "./repository.js";
import type { WordedPrompt } from "./standings-queries.sql.js";

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
  const meetings = headToHead(ratings.order, tallies, numberOf);
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
      headToHead: meetings.map((row, i) =>
        row.map((cell, j) => ({ ...cell, expected: expectShare(fit, ratings.order[i]!, ratings.order[j]!) })),
      ),
      circles: findCircles(meetings),
    },
  };
}

/**
 * Ratings on each prompt by the fit of all ballots, how far voters agree there, and ratings on the prompts of each kind and tag.
 */
export function countByPrompt(
  { fit, numberOf }: Pick<ReturnType<typeof countStandings>, "fit" | "numberOf">,
  { prompt }: Tallies,
  prompts: readonly WordedPrompt[],
): Pick<PromptRatings, "prompts" | "categories"> {
  const placeOf = new Map(prompts.map(({ wordingId }, index) => [wordingId, index]));
  const versionIds = [...numberOf.keys()];
  const counts = toColumns(
    prompt.filter(({ wordingId }) => placeOf.has(wordingId)),
    numberOf,
    ({ wordingId }) => placeOf.get(wordingId)!,
  );
  const nameRatings = (ratings: readonly (PromptRating | null)[]) =>
    ratings.flatMap((one, entrant) => (one === null ? [] : [{ versionId: versionIds[entrant]!, ...one }]));
  const [rows, agreements] = [ratePrompts(fit, counts, prompts.length), measureAgreement(counts, prompts.length)];
  const categories = listCategories(prompts).flatMap(({ of, names, categoryOf }) => {
    const rated = rateCategories(numberOf.size, counts, categoryOf);
    return names.map(([name, category]) => {
      const own = agreements.filter((_, index) => categoryOf[index] === category);
      const ballots = sum(own, (one) => one.ballots);
      return { of, name, prompts: own.length, ballots, ratings: nameRatings(rated[category] ?? []) };
    });
  });
  return {
    prompts: prompts.map(({ promptId }, index) => ({
      promptId,
      ...agreements[index]!,
      ratings: nameRatings(rows[index]!),
    })),
    categories,
  };
}

interface Categories {
  of: "kind" | "tag";
  /** What is told of, with the number of its category. */
  names: [name: string, category: number][];
  /** Of each prompt. */
  categoryOf: number[];
}

/** Kinds part the prompts. A tag parts those that have it from the rest, since a prompt may have several. */
function listCategories(prompts: readonly WordedPrompt[]): Categories[] {
  const kinds = [...new Set(prompts.map(({ kind }) => kind))];
  const tags = [...new Set(prompts.flatMap((prompt) => prompt.tags))].toSorted();
  const byKind: Categories = {
    of: "kind",
    names: kinds.map((kind, index) => [kind, index]),
    categoryOf: prompts.map(({ kind }) => kinds.indexOf(kind)),
  };
  const byTag = tags.map((tag): Categories => ({
    of: "tag",
    names: [[tag, 1]],
    categoryOf: prompts.map((prompt) => Number(prompt.tags.includes(tag))),
  }));
  const parts = ({ categoryOf }: Categories) => new Set(categoryOf).size > 1;
  return [byKind, ...byTag].filter(parts);
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
): Omit<Standings["headToHead"][number][number], "expected">[][] {
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
