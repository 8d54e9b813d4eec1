import type { StoppingGoal, StoppingLook, StoppingPlan } from "../contract/index.js";
import { type BallotColumns, pickBallots, rateBallots, type Ratings } from "../ratings/index.js";

const ALPHA = 0.05;

/**
 * How often one look may be wrong, so that all of a plan's looks together are wrong at most one time in twenty: by Bonferroni's bound, which holds however
 * the looks hang together. Who looks at 95 % intervals again and again until one parts, finds it parted too often (Armitage, McPherson & Rowe 1969).
 */
export const lookingAlpha = ({ looks }: Pick<StoppingPlan, "looks">): number => ALPHA / looks;

/** The numbers of ballots at which a plan looks, evenly spaced from those that were there when it was set to its last. */
export function planLooks({
  ballotsBefore,
  mostBallots,
  looks,
}: Omit<StoppingPlan, "id" | "goal" | "setAt" | "givenUpAt">) {
  const step = Math.max(0, mostBallots - ballotsBefore) / looks;
  const planned = Array.from({ length: looks }, (_, look) => Math.round(ballotsBefore + step * (look + 1)));
  return [...new Set(planned)];
}

/**
 * Takes a plan's looks as far as there are ballots: each at the first so many, in the order in which they were cast, so that a look says the same
 * whenever it is taken. Yields before each fit.
 *
 * @param ballots those that count, in order.
 */
export function* lookInSteps(
  plan: StoppingPlan,
  entrants: number,
  ballots: BallotColumns,
): Generator<undefined, StoppingLook[]> {
  const looks: StoppingLook[] = [];
  for (const count of planLooks(plan)) {
    if (count > ballots.outcome.length) {
      looks.push({ ballots: count, isMet: null, reached: null });
      continue;
    }
    yield;
    const first = pickBallots(
      ballots,
      Int32Array.from({ length: count }, (_, place) => place),
    );
    const { ratings } = rateBallots(entrants, first, { alpha: lookingAlpha(plan) });
    looks.push({ ballots: count, ...judgeGoal(plan.goal, ratings) });
  }
  return looks;
}

function judgeGoal(goal: StoppingGoal, { entrants, order }: Ratings): Pick<StoppingLook, "isMet" | "reached"> {
  const rated = order.filter((index) => entrants[index]!.rating !== null);
  if (goal.kind === "first") {
    const isTold = (place: number) => {
      const range = rated[place] === undefined ? null : entrants[rated[place]]!.rankRange;
      return range !== null && range[0] === place + 1 && range[1] === place + 1;
    };
    const wanted = Math.min(goal.count, rated.length);
    const reached = Array.from({ length: wanted }, (_, place) => place).filter(isTold).length;
    return { isMet: wanted > 0 && reached === wanted, reached };
  }
  const widths = rated.map((index) => entrants[index]!.halfWidth);
  if (widths.length === 0 || widths.includes(null)) return { isMet: false, reached: null };
  const widest = Math.max(...(widths as number[]));
  return { isMet: widest <= goal.points, reached: widest };
}
