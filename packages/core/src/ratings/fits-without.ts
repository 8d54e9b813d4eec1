import { type CountColumns, subtractCounts } from "./ballots.js";
import { findComponents } from "./components.js";
import { createEvaluation, type FitOptions, isInside, type Problem, setUpProblem } from "./fit-problem.js";
import { fitRatings, type RatingFit } from "./fit-ratings.js";
import { isLastStep, makeEvaluation } from "./newton.js";
import { groupByPair, type PairCounts } from "./pair-counts.js";
import { factor, solveFactored } from "./square-matrix.js";

/** What some ballots come to, without how likely they are and how uncertain it is. */
export interface BareFit extends Pick<RatingFit, "theta" | "delta" | "component"> {
  model: Pick<RatingFit["model"], "scale" | "x" | "firstCutSlot">;
}

/** In logits. Where a step would be longer, what is left is not nearly the same ballots. */
const LONGEST_STEP = 0.5;
/** In logits. Smaller steps are not made: they would not change a voter's agreement. */
const SMALLEST_STEP = 1e-7;
const MOST_STEPS = 12;

/**
 * Fits of all ballots but a few, such as those of one voter. The others' maximum is looked for by Newton's method from that of all ballots, which is near. Ratings agree
 * with those of `fitRatings` to six digits. It takes less time because the ballots are put together once, and neither likelihoods nor errors are computed.
 */
export class FitsWithout {
  private readonly grouped: PairCounts;
  /** By the numbers of two entrants the place of their pair. */
  private readonly placeOf: ReadonlyMap<number, number>;
  private readonly whole: { problem: Problem; fit: RatingFit } | null;

  /** @throws TourneyError INVALID_INPUT for malformed counts. */
  constructor(
    private readonly entrantCount: number,
    private readonly all: CountColumns,
    private readonly options: FitOptions,
  ) {
    this.grouped = groupByPair(entrantCount, options.K, all);
    const { left, right } = this.grouped;
    this.placeOf = new Map(Array.from(left, (entrant, pair) => [entrant * entrantCount + right[pair]!, pair]));
    const problem = setUpProblem(entrantCount, this.grouped, options);
    const fit = this.fitAnew(all);
    this.whole = fit === null || !hasPriors(options) || problem.scale.reducedK <= 1 ? null : { problem, fit };
  }

  /**
   * The fit of all ballots but some.
   *
   * @param own ballots that are among all, as `countBallots` gives them.
   * @returns null where, without priors, the others have no finite best ratings.
   * @throws RangeError when ballots are to be taken away that are not there.
   */
  fit(own: CountColumns): BareFit | null {
    return this.climb(own) ?? this.fitAnew(subtractCounts(this.all, own));
  }

  /** @returns null where what is left has other parameters than all ballots, or its maximum is far from theirs. */
  private climb(own: CountColumns): BareFit | null {
    const rest = this.takeAway(own);
    if (rest === null || !this.hasSameParameters(rest)) return null;
    const x = climbFrom(this.whole!.fit.model.x, rest);
    if (x === null) return null;
    const { slot, component, deltaSlot, firstCutSlot, scale } = rest;
    return {
      theta: Array.from(slot, (at) => (at === -1 ? null : x[at]!)),
      delta: deltaSlot === null ? null : x[deltaSlot]!,
      component,
      model: { scale, x, firstCutSlot },
    };
  }

  private takeAway({ left, right, outcome, n }: CountColumns): Problem | null {
    if (this.whole === null) return null;
    const { problem } = this.whole;
    const { reducedK, toReduced } = problem.scale;
    const counts = problem.pairs.counts.slice();
    for (let row = 0; row < n.length; row++) {
      const pair = this.placeOf.get(left[row]! * this.entrantCount + right[row]!);
      const at = (pair ?? NaN) * reducedK + toReduced[outcome[row]!]! - 1;
      // `subtractCounts` refuses ballots that are not there.
      if (!(counts[at]! >= n[row]!)) return null;
      counts[at]! -= n[row]!;
    }
    return { ...problem, pairs: { ...problem.pairs, counts } };
  }

  /** Whether the same entrants hang together, and every threshold still has ballots on both sides. */
  private hasSameParameters({ pairs: { counts }, scale: { reducedK }, component }: Problem): boolean {
    const gone = new Set<number>();
    const totals = new Float64Array(reducedK);
    for (let pair = 0, at = 0; at < counts.length; pair++) {
      let ballots = 0;
      for (let k = 0; k < reducedK; k++, at++) {
        ballots += counts[at]!;
        totals[k]! += counts[at]!;
      }
      if (ballots === 0) gone.add(pair);
    }
    // An outcome and the one mirrored to it are one class.
    if (totals.some((total, k) => total + totals[reducedK - 1 - k]! === 0)) return false;
    if (gone.size === 0) return true;
    const isLeft = (_: number, pair: number) => !gone.has(pair);
    const { left, right } = this.grouped;
    return findComponents(this.entrantCount, left.filter(isLeft), right.filter(isLeft)).every(
      (own, entrant) => own === component[entrant],
    );
  }

  private fitAnew(counts: CountColumns): RatingFit | null {
    try {
      return fitRatings(this.entrantCount, counts, this.options, this.whole?.fit);
    } catch (error) {
      if (hasPriors(this.options)) throw error;
      return null;
    }
  }
}

/** Whether any ballots have finite best ratings. */
const hasPriors = ({ ridge, side, ridgeSide }: FitOptions) => ridge > 0 && (!side || ridgeSide > 0);

/** @returns null where the steps do not soon become small. */
function climbFrom(start: Float64Array, problem: Problem): Float64Array | null {
  const evaluate = createEvaluation(problem, { withValue: false });
  const at = makeEvaluation(start.length);
  let x = start;
  let previous = Infinity;
  for (let step = 0; step < MOST_STEPS; step++) {
    evaluate(x, at);
    const factored = factor(at.information);
    if (factored === null) return null;
    const move = solveFactored(factored, at.gradient);
    const next = new Float64Array(x.length);
    let largest = 0;
    for (let i = 0; i < x.length; i++) {
      next[i] = x[i]! + move[i]!;
      largest = Math.max(largest, Math.abs(move[i]!));
    }
    x = next;
    if (!(largest < LONGEST_STEP) || !isInside(problem, x)) return null;
    if (isLastStep(largest, { previous, smallest: SMALLEST_STEP })) return x;
    previous = largest;
  }
  return null;
}
