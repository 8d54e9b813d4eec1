import { factor, solveFactored, SquareMatrix } from "./square-matrix.js";

/** A concave objective at one point. */
export interface Evaluation {
  value: number;
  gradient: Float64Array;
  /** Minus the Hessian, made positive definite in directions that change nothing. */
  information: SquareMatrix;
}

export interface Objective {
  /** Evaluates at a point, into arrays that are already there: a fit makes no others. */
  evaluate: (x: Float64Array, into: Evaluation) => void;
  /** Whether a point may be tried at all. */
  isInside: (x: Float64Array) => boolean;
}

const MOST_STEPS = 200;
/** In logits. A step that would be smaller is not made. */
const SMALLEST_STEP = 1e-10;
/** Rounding in a sum may hide a true rise; a fall within it is accepted. */
const ROUNDING = 1e-12;

export const makeEvaluation = (size: number): Evaluation => ({
  value: 0,
  gradient: new Float64Array(size),
  information: new SquareMatrix(size),
});

/**
 * Maximises a concave function by Newton's method, the step halved until the objective does not fall.
 *
 * @param afterStep told of each new point; may throw to end a search that leads nowhere.
 * @returns null when the information is singular: there is no finite maximum.
 */
export function maximise(
  { evaluate, isInside }: Objective,
  start: Float64Array,
  afterStep: (x: Float64Array) => void = () => undefined,
): { x: Float64Array; at: Evaluation } | null {
  let x = start;
  let at = makeEvaluation(x.length);
  let spare = makeEvaluation(x.length);
  evaluate(x, at);
  let previous = Infinity;
  for (let step = 0; step < MOST_STEPS && x.length > 0; step++) {
    const factored = factor(at.information);
    if (factored === null) return null;
    const move = solveFactored(factored, at.gradient);
    const next = takeStep({ evaluate, isInside }, { x, move, value: at.value }, spare);
    if (next === null) break;
    x = next.x;
    [at, spare] = [spare, at];
    afterStep(x);
    if (isLastStep(next.largest, { previous, smallest: SMALLEST_STEP })) break;
    previous = next.largest;
  }
  return { x, at };
}

/**
 * Whether the step after one would be too small to be made: near the maximum each is about a constant times the square of the one before.
 *
 * @param largest what the step moved a parameter by at most; `previous` the one before it, infinite where there was none.
 */
export const isLastStep = (largest: number, { previous, smallest }: { previous: number; smallest: number }): boolean =>
  Math.max(1, largest / previous ** 2) * largest ** 2 < smallest;

/** The longest of the step, its half, its quarter … that the objective does not fall by; evaluated into `into`. */
function takeStep(
  { evaluate, isInside }: Objective,
  { x, move, value }: { x: Float64Array; move: Float64Array; value: number },
  into: Evaluation,
): { x: Float64Array; largest: number } | null {
  for (let share = 1; share > 1e-12; share /= 2) {
    const tried = x.map((from, i) => from + share * move[i]!);
    if (!isInside(tried)) continue;
    evaluate(tried, into);
    // Written so that a value that is no number is refused.
    if (!(into.value >= value - ROUNDING * (1 + Math.abs(value)))) continue;
    let largest = 0;
    for (const part of move) largest = Math.max(largest, share * Math.abs(part));
    return { x: tried, largest };
  }
  return null;
}
