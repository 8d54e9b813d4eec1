import type { PromptRatings, Standing, Standings } from "../contract/index.js";
import {
  type ClusterCounts,
  type CountColumns,
  expectShare,
  findCircles,
  type Meeting,
  measureAgreement,
  type PromptRating,
  rateCategories,
  ratePromptsInSteps,
  type RatedBallots,
} from "../ratings/index.js";
import { finish } from "../steps.js";
import type { CompetitorFigures } from "./cell-tally.js";

/** What the standings say of a competitor apart from its rating. */
export type Competitor = Pick<Standing, "entrant" | "version"> & CompetitorFigures;

/** What follows from the ballots that count, without where they come from. */
export type Counted = Omit<Standings, "edition" | "counts" | "countedAt" | "sources" | "formerVersions" | "setAside">;

/** Ballots as they are rated, with what else they say; competitors are meant by their places in the list. */
export interface Rated extends RatedBallots {
  /** Of each competitor, on how many ballots somebody marked it as not working. */
  failures: ArrayLike<number>;
}

/** Each entrant with its predecessor as both are set up now, and each version with the one before it; by their places in the list, the newer first. */
export function findSuccession(competitors: readonly Pick<Competitor, "entrant" | "version">[]): [number, number][] {
  return competitors.flatMap(({ entrant, version }, newer): [number, number][] => {
    const older = version.isPresent
      ? competitors.findIndex((other) => other.version.isPresent && other.entrant.key === entrant.predecessor)
      : -1;
    const before = competitors.reduce((found, other, index) => {
      if (other.entrant.id !== entrant.id || other.version.number >= version.number) return found;
      return found === -1 || competitors[found]!.version.number < other.version.number ? index : found;
    }, -1);
    return [older, before].filter((index) => index !== -1).map((index) => [newer, index]);
  });
}

/** To a hundredth of a percent: more digits tell nothing, and there is a share for every pair. */
const roundShare = (share: number | null): number | null => (share === null ? null : Number(share.toFixed(4)));

/** Standings from ratings: the rows best first, pairs, brackets and what else they come to. */
export function describeStandings(
  competitors: readonly Competitor[],
  { fit, ratings, counts, failures }: Rated,
  sampleBallots: number,
): Counted {
  const { order, clusters, forecasts, differences } = ratings;
  const meetings = countMeetings(order, counts);
  return {
    methodVersion: ratings.methodVersion,
    ballots: sumOf(counts.n),
    sampleBallots,
    voters: clusters.voters,
    prompts: clusters.prompts,
    components: new Set(ratings.entrants.map(({ component }) => component).filter((component) => component !== -1))
      .size,
    side: ratings.side,
    forecasts: forecasts.map(({ first, second, ...forecast }) => ({
      ...forecast,
      firstId: competitors[first]!.version.id,
      secondId: competitors[second]!.version.id,
    })),
    succession: differences.map(({ first, second, points, halfWidth }) => ({
      newerId: competitors[first]!.version.id,
      olderId: competitors[second]!.version.id,
      ...{ points, halfWidth },
    })),
    rows: order.map((index) => ({
      ...competitors[index]!,
      ...ratings.entrants[index]!,
      worksShare: worksShare(ratings.entrants[index]!.ballots, failures[index]!),
    })),
    brackets: ratings.brackets,
    headToHead: meetings.flatMap((row, i) =>
      row
        .slice(i + 1)
        .map(({ ballots, share }, after): Standings["headToHead"][number] => [
          ballots,
          roundShare(share),
          roundShare(expectShare(fit, order[i]!, order[i + 1 + after]!)),
        ]),
    ),
    circles: findCircles(meetings),
  };
}

/** What is told of a prompt's ratings by. */
export interface RatedPrompt {
  promptId: string;
  kind: string;
  tags: readonly string[];
}

/** Ballots by prompt (`cluster`), with the ratings that all of them come to. */
export interface RatedByPrompt extends Pick<RatedBallots, "fit" | "ratings"> {
  counts: ClusterCounts;
}

/**
 * Ratings on each prompt by the fit of all ballots, how far voters agree there, and ratings on the prompts of each kind and tag.
 *
 * @param prompts as the ballots are counted by them.
 */
export const describePrompts = (
  competitors: readonly Pick<Competitor, "version">[],
  rated: RatedByPrompt,
  prompts: readonly RatedPrompt[],
): PromptRatings => finish(describePromptsInSteps(competitors, rated, prompts));

/** The same, a prompt, a kind or a tag at a step, for whoever has something else to do in between. */
export function* describePromptsInSteps(
  competitors: readonly Pick<Competitor, "version">[],
  { fit, ratings, counts }: RatedByPrompt,
  prompts: readonly RatedPrompt[],
): Generator<undefined, PromptRatings> {
  const nameRatings = (ratings: readonly (PromptRating | null)[]) =>
    ratings.flatMap((one, index) => (one === null ? [] : [{ versionId: competitors[index]!.version.id, ...one }]));
  const rows = yield* ratePromptsInSteps(fit, counts, prompts.length);
  const agreements = measureAgreement(counts, prompts.length);
  const categories: PromptRatings["categories"] = [];
  for (const { of, names, categoryOf } of listCategories(prompts)) {
    yield undefined;
    const rated = rateCategories(competitors.length, counts, categoryOf);
    for (const [name, category] of names) {
      const own = agreements.filter((_, index) => categoryOf[index] === category);
      const ballots = own.reduce((sum, one) => sum + one.ballots, 0);
      categories.push({ of, name, prompts: own.length, ballots, ratings: nameRatings(rated[category] ?? []) });
    }
  }
  return {
    overall: ratings.order.map((index) => ({
      versionId: competitors[index]!.version.id,
      rating: ratings.entrants[index]!.rating,
    })),
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
function listCategories(prompts: readonly RatedPrompt[]): Categories[] {
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

function sumOf(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum;
}

/** The share of a competitor's ballots on which nobody marked it as not working. */
const worksShare = (ballots: number, failures: number): number | null =>
  ballots === 0 ? null : (ballots - failures) / ballots;

/** Cell [i][j]: how the one in place i of an order did against that in place j. */
function countMeetings(order: readonly number[], { left, right, outcome, n }: CountColumns): Meeting[][] {
  const size = order.length;
  const place = new Int32Array(size);
  order.forEach((competitor, row) => (place[competitor] = row));
  const ballots = new Float64Array(size * size);
  const points = new Float64Array(size * size);
  for (let r = 0; r < n.length; r++) {
    const [l, rr] = [place[left[r]!]!, place[right[r]!]!];
    const leftPoints = outcome[r]! < 3 ? 1 : outcome[r]! === 3 ? 0.5 : 0;
    ballots[l * size + rr]! += n[r]!;
    ballots[rr * size + l]! += n[r]!;
    points[l * size + rr]! += n[r]! * leftPoints;
    points[rr * size + l]! += n[r]! * (1 - leftPoints);
  }
  return order.map((_, i) =>
    order.map((__, j) => {
      const met = ballots[i * size + j]!;
      return { ballots: met, share: met === 0 ? null : points[i * size + j]! / met };
    }),
  );
}
