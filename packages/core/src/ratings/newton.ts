import type { SquareMatrix } from "./square-matrix.js";
import { factor, solveFactored } from "./square-matrix.js";

/** A concave objective at one point. */
export interface Evaluation {
  value: number;
  gradient: Float64Array;
  /** Minus the Hessian, made positive definite in directions that change nothing. */
  information: SquareMatrix;
}

export interface Objective {
  evaluate: (x: Float64Array) => Evaluation;
  /** Whether a point may be tried at all. */
  isInside: (x: Float64Array) => boolean;
}

const MOST_STEPS = 200;
const SMALLEST_STEP = 1e-10;
/** Rounding in a sum may hide a true rise; a fall within it is accepted. */
const ROUNDING = 1e-12;

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
  let at = evaluate(x);
  for (let step = 0; step < MOST_STEPS && x.length > 0; step++) {
    const lower = factor(at.information);
    if (lower === null) return null;
    const move = solveFactored(lower, at.gradient);
    const next = takeStep({ evaluate, isInside }, x, move, at.value);
    if (next === null) break;
    x = next.x;
    at = next.at;
    afterStep(x);
    if (next.largest < SMALLEST_STEP) break;
  }
  return { x, at };
}

function takeStep({ evaluate, isInside }: Objective, x: Float64Array, move: Float64Array, value: number) {
  for (let share = 1; share > 1e-12; share /= 2) {
    const tried = x.map((from, i) => from + share * move[i]!);
    if (!isInside(tried)) continue;
    const at = evaluate(tried);
    if (at.value < value - ROUNDING * (1 + Math.abs(value))) continue;
    let largest = 0;
    for (const part of move) largest = Math.max(largest, share * Math.abs(part));
    return { x: tried, at, largest };
  }
  return null;
}
