import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import type { TakesContest } from "../contract/index.js";
import { mean, median } from "../stats/index.js";
import { type ContestBallot, tallyForms } from "./forms-contest.js";

/**
 * Of the ballots on one prompt: how two voters' leans on the same two pages go together, summed over all pairs of voters. Leans are turned to one
 * order of the pages; what voters have in common there is how far the pages really are apart.
 */
export interface PairMoments {
  promptId: string;
  /** Sum of the products of two voters' leans on the same pages. */
  products: number;
  /** How many such pairs of ballots there are. */
  pairs: number;
}

/** How far rated ballots between entrants lean, and what they have in common. */
export interface Between {
  distance: number | null;
  moments: readonly PairMoments[];
}

/** Below this many pairs of ballots on the same takes, or prompts with any, nothing is said of the share. */
const FEWEST_PAIRS = 20;
const FEWEST_PROMPTS = 3;

/**
 * How far takes of one entrant are from each other, and which part that is of the distance between two entrants' pages.
 *
 * Leans on the same two pages by two voters share nothing but the pages' difference, so their mean product estimates its variance on the scale of
 * leans (the covariance form of the intraclass correlation, Fisher 1925). For two takes that variance is luck of the draw alone; for two entrants it is
 * luck, the prompt and the entrants. Their ratio is the share; its interval is by leaving out one prompt at a time (Quenouille 1956, Tukey 1958).
 */
export function describeTakes(ballots: readonly ContestBallot[], between: Between): TakesContest {
  const versions = [...new Set(ballots.map(({ leftVersionId }) => leftVersionId))];
  const distanceOf = (own: readonly ContestBallot[]) => mean(own.map(({ lean }) => Math.abs(lean)))!;
  return {
    ballots: ballots.length,
    distance: distanceOf(ballots),
    distanceBetween: between.distance,
    share: estimateShare(sumMoments(ballots.filter(({ isRepeat }) => !isRepeat)), between.moments),
    entrants: versions.map((versionId) => {
      const own = ballots.filter(({ leftVersionId }) => leftVersionId === versionId);
      return { versionId, ballots: own.length, distance: distanceOf(own) };
    }),
    drift: versions.flatMap((versionId) => findDrift(ballots.filter((one) => one.leftVersionId === versionId))),
  };
}

/** Takes that were asked for so far apart tell whether a model that is called the same is still the same. */
const APART_DAYS = 14;
const DAY_MS = 86_400_000;

/**
 * Whether an entrant's later takes are better or worse than its earlier ones. The interval for prompts and voters like these has the spread between its takes
 * in it: each prompt has its own draw.
 */
function findDrift(own: readonly ContestBallot[]): TakesContest["drift"] {
  const gapOf = ({ leftAt, rightAt }: ContestBallot) => (Date.parse(rightAt) - Date.parse(leftAt)) / DAY_MS;
  const apart = own.filter((ballot) => Math.abs(gapOf(ballot)) >= APART_DAYS);
  if (apart.length === 0) return [];
  const tally = tallyForms(apart.map((ballot) => ({ ballot, later: "later", isLaterRight: gapOf(ballot) > 0 })));
  return [
    { versionId: apart[0]!.leftVersionId, days: median(apart.map((ballot) => Math.abs(gapOf(ballot))))!, ...tally },
  ];
}

/** By prompt, from ballots of which none is a repeat: a voter has himself in common with himself. */
function sumMoments(ballots: readonly ContestBallot[]): PairMoments[] {
  const pages = new Map<string, { promptId: string; sum: number; squares: number; n: number }>();
  for (const { promptId, leftEntryId, rightEntryId, lean } of ballots) {
    const isInOrder = leftEntryId < rightEntryId;
    const key = isInOrder ? `${leftEntryId} ${rightEntryId}` : `${rightEntryId} ${leftEntryId}`;
    const own = pages.get(key) ?? { promptId, sum: 0, squares: 0, n: 0 };
    own.sum += isInOrder ? lean : -lean;
    own.squares += lean * lean;
    own.n += 1;
    pages.set(key, own);
  }
  const byPrompt = new Map<string, PairMoments>();
  for (const { promptId, sum, squares, n } of pages.values()) {
    const own = byPrompt.get(promptId) ?? { promptId, products: 0, pairs: 0 };
    own.products += sum * sum - squares;
    own.pairs += n * (n - 1);
    byPrompt.set(promptId, own);
  }
  return [...byPrompt.values()];
}

function estimateShare(takes: readonly PairMoments[], entrants: readonly PairMoments[]): TakesContest["share"] {
  const prompts = takes.filter(({ pairs }) => pairs > 0).map(({ promptId }) => promptId);
  if (prompts.length < FEWEST_PROMPTS || takes.reduce((sum, { pairs }) => sum + pairs, 0) < FEWEST_PAIRS) return null;
  // The same prompts on both sides: some have more of everything.
  const shareWithout = (left?: string) => {
    const kept = prompts.filter((id) => id !== left);
    const [luck, all] = [takes, entrants].map((moments) =>
      covariance(moments.filter(({ promptId }) => kept.includes(promptId))),
    );
    return luck === null || all === null || luck === undefined || all === undefined || all <= 0 ? null : luck / all;
  };
  const share = shareWithout();
  const others = prompts.flatMap((id) => shareWithout(id) ?? []);
  if (share === null || others.length < prompts.length) return null;
  const centre = mean(others)!;
  const variance = ((prompts.length - 1) / prompts.length) * others.reduce((sum, one) => sum + (one - centre) ** 2, 0);
  const reach = tQuantile(0.975, prompts.length - 1) * Math.sqrt(variance);
  const within = (value: number) => Math.min(1, Math.max(0, value));
  return { share: within(share), low: within(share - reach), high: within(share + reach) };
}

function covariance(moments: readonly PairMoments[]): number | null {
  const pairs = moments.reduce((sum, own) => sum + own.pairs, 0);
  return pairs === 0 ? null : moments.reduce((sum, { products }) => sum + products, 0) / pairs;
}
