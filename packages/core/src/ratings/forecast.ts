import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import type { RatingFit } from "./fit-ratings.js";
import { type Covariances, standardError } from "./uncertainty.js";

/** How many more: if the difference is as it looks, and if it is one standard error larger or smaller; null for no number. */
export interface HowMany {
  low: number | null;
  likely: number | null;
  high: number | null;
}

/** What it would take to tell two entrants apart. */
export interface Forecast {
  /** More ballots, when voters and prompts grow in step with them. */
  ballots: HowMany;
  /** How many more voters and prompts that is, if the difference is as it looks; null for no number. */
  voters: number | null;
  prompts: number | null;
  /** Of what new ones have to come, at least: more ballots of the same voters on the same prompts may never do. */
  needs: "ballots" | "voters" | "prompts" | "voters and prompts";
}

/** Who has few ballots can have this many; who has many, this many times as many. More is no plan. */
const MOST_BALLOTS = 100_000;
const MOST_TIMES = 20;

/**
 * How many more ballots until two entrants are told apart, by the fitted model. The variance of their difference is taken apart into
 * what falls with the number of ballots (the model's own), with that of voters and with that of prompts (what each cluster error adds);
 * all fall as one over their number. They are told apart when the difference is as wide as the interval of all comparisons together.
 * A rough figure: it supposes that further voters and prompts are like those so far, and that the difference stays.
 *
 * @param comparisons how many pairs are compared at once.
 * @returns null where there is no difference to speak of, no error to reckon with, or where they are told apart already.
 */
export function forecastSeparation(
  fit: RatingFit,
  covariances: Covariances,
  { i, j, ballots, comparisons }: { i: number; j: number; ballots: number; comparisons: number },
): Forecast | null {
  const { naive, voter, prompt, twoWay, clusters } = covariances;
  const errors = [naive, voter, prompt, twoWay].map((matrix) => matrix && standardError(matrix, fit.model, i, j));
  if (errors.some((error) => error === null)) return null;
  const [own, byVoter, byPrompt, both] = (errors as number[]).map((error) => error ** 2) as [
    number,
    number,
    number,
    number,
  ];
  const ofVoters = Math.max(0, byVoter - own);
  const ofPrompts = Math.max(0, byPrompt - own);
  // What the two-way error has beyond these is laid to the ballots.
  const ofBallots = Math.max(own, both - ofVoters - ofPrompts);
  const widest = Math.sqrt(Math.max(own, byVoter, byPrompt, both, ofBallots + ofVoters + ofPrompts));
  const difference = Math.abs(fit.theta[i]! - fit.theta[j]!);
  const fewest = Math.min(clusters.voters, clusters.prompts);
  const critical = (times: number) => tQuantile(1 - 0.025 / comparisons, Math.max(1, fewest * times - 1));
  const most = Math.max(MOST_TIMES, MOST_BALLOTS / ballots);
  const timesNeeded = (gap: number): number | null => {
    if (gap <= 0) return null;
    let times = 1;
    // The quantile falls with the number of clusters, which depends on the quantile: a few rounds settle it.
    for (let round = 0; round < 20; round++) {
      const before = times;
      times = Math.max(1, (widest * critical(times)) ** 2 / gap ** 2);
      // What is no plan anyway is not settled further, and a millionth of a ballot is nothing.
      if (times > 2 * most || Math.abs(times - before) < 1e-9 * before) break;
    }
    return times > most ? null : times;
  };
  const likely = timesNeeded(difference);
  if (likely === 1) return null;
  const further = (times: number | null, soFar: number) => (times === null ? null : Math.ceil((times - 1) * soFar));
  const more = (gap: number) => further(timesNeeded(gap), ballots);
  const target = (difference / critical(likely ?? most)) ** 2;
  const needs =
    ofVoters + ofPrompts < target
      ? "ballots"
      : ofPrompts < target
        ? "voters"
        : ofVoters < target
          ? "prompts"
          : "voters and prompts";
  return {
    ballots: { low: more(difference + widest), likely: further(likely, ballots), high: more(difference - widest) },
    voters: further(likely, clusters.voters),
    prompts: further(likely, clusters.prompts),
    needs,
  };
}
