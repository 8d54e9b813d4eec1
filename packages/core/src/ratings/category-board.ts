import { fitCategories } from "./category-ratings.js";
import { BASE_RATING, POINTS_PER_LOGIT, PRODUCT_OPTIONS } from "./rate-ballots.js";
import type { PromptRating } from "./prompt-ratings.js";
import type { ClusterCounts } from "./ballots.js";

/** σ is 174 points: how far a kind may be from an entrant's average (RATINGS, section 7). */
const RIDGE_CATEGORY = 1;

/**
 * Ratings in each category of prompts, drawn towards the entrant's average over the categories, the more the fewer ballots there are: `fitCategories` with the
 * product's settings, in rating points.
 *
 * @param counts ballots by prompt (`cluster`), pair and outcome; prompts are numbered from 0.
 * @param categoryOf the category of each prompt, numbered from 0.
 * @returns by category and entrant; null for an entrant without a ballot on any prompt. `error` is of the model alone, by no cluster.
 */
export function rateCategories(
  entrantCount: number,
  counts: ClusterCounts,
  categoryOf: readonly number[],
): (PromptRating | null)[][] {
  const categoryCount = Math.max(1, ...categoryOf.map((category) => category + 1));
  const category = Int32Array.from(counts.cluster, (cluster) => categoryOf[cluster]!);
  const { thetaCategory, seThetaCategory } = fitCategories(
    entrantCount,
    { ...counts, category },
    { ...PRODUCT_OPTIONS, categoryCount, ridgeCategory: RIDGE_CATEGORY },
  );
  const ballots = Array.from({ length: categoryCount }, () => new Float64Array(entrantCount));
  for (let r = 0; r < counts.n.length; r++)
    for (const side of [counts.left[r]!, counts.right[r]!]) ballots[category[r]!]![side]! += counts.n[r]!;
  return ballots.map((own, c) =>
    Array.from(own, (n, m) => {
      const [theta, error] = [thetaCategory[m]![c] ?? null, seThetaCategory[m]![c] ?? null];
      if (theta === null || error === null) return null;
      return { rating: BASE_RATING + POINTS_PER_LOGIT * theta, error: POINTS_PER_LOGIT * error, ballots: n };
    }),
  );
}
