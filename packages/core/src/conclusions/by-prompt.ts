import type { PromptRatings, Standing } from "../contract/index.js";

/** Fewer ballots of an entrant than this say little of it on a prompt or a kind. */
export const THIN_BALLOTS = 20;
/** Nobody is first on a prompt by fewer ballots than this. */
const FEWEST_BALLOTS = 5;
/** A prompt is judged by its ballots from this many on. */
const ENOUGH_BALLOTS = 30;
const NORMAL_95 = 1.96;
/** More even ballots than this, and ratings that vary less than this share of how they vary over all prompts: worn out. */
const WORN_EVEN_SHARE = 0.3;
const WORN_VARIATION = 0.75;
/** Less than this share of deciding ballots on the side that most took: disputed. */
const DISPUTED_AGREEMENT = 0.7;

type RatedThere = PromptRatings["prompts"][number]["ratings"][number];

/** An entrant's standing with its rating on a prompt, a kind or a tag. */
export interface RatedRow {
  row: Standing;
  rating: number;
  /** Half of the 95 % interval, in rating points. */
  halfWidth: number;
  ballots: number;
}

/** Entrants by their ratings there, the best first. */
export function rank(ratings: readonly RatedThere[], rows: readonly Standing[]): RatedRow[] {
  return ratings
    .flatMap(({ versionId, rating, error, ballots }) => {
      const row = rows.find(({ version }) => version.id === versionId);
      return row === undefined ? [] : [{ row, rating, halfWidth: NORMAL_95 * error, ballots }];
    })
    .toSorted((a, b) => b.rating - a.rating);
}

/** Who is first on a prompt: told apart from the next by the ballots there, however few the next has; null where nobody is. */
export function findFirst([first, second]: readonly RatedRow[]): RatedRow | null {
  if (first === undefined || second === undefined || first.ballots < FEWEST_BALLOTS) return null;
  return first.rating - second.rating > Math.hypot(first.halfWidth, second.halfWidth) ? first : null;
}

/** Standard deviation; one entrant far behind the others moves it less than it moves the range. */
function variationOf(ratings: readonly number[]): number {
  const mean = ratings.reduce((sum, rating) => sum + rating, 0) / ratings.length;
  return Math.sqrt(ratings.reduce((sum, rating) => sum + (rating - mean) ** 2, 0) / ratings.length);
}

/** What a prompt is worth to the suite. */
export type Worth = "worn out" | "disputed" | "tells apart" | "too few ballots";

/** What its ballots say of a prompt. Worn out: many are even, and the entrants lie close together. Disputed: voters part on it. One that is both is worn out. */
export function judgePrompt(
  { ballots, evenShare, agreement }: Pick<PromptRatings["prompts"][number], "ballots" | "evenShare" | "agreement">,
  { rated, overall }: { rated: readonly RatedRow[]; overall: readonly number[] },
): Worth {
  if (ballots < ENOUGH_BALLOTS) return "too few ballots";
  const isClose = variationOf(rated.map(({ rating }) => rating)) < WORN_VARIATION * variationOf(overall);
  if (isClose && (evenShare ?? 0) > WORN_EVEN_SHARE) return "worn out";
  return agreement !== null && agreement < DISPUTED_AGREEMENT ? "disputed" : "tells apart";
}
