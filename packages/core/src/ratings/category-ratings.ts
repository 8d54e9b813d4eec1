import { TourneyError } from "../errors.js";
import { checkCounts, type CountColumns } from "./ballots.js";
import { findComponents } from "./components.js";
import { type Evaluation, maximise } from "./newton.js";
import { type OutcomeScale, reduceScale, restoreCuts } from "./outcome-classes.js";
import { PairLikelihood } from "./pair-likelihood.js";
import { factor, invertFactored, type SquareMatrix } from "./square-matrix.js";
import type { FitOptions } from "./fit-problem.js";

/** Counts with the 0-based category that each row is of. */
export interface CategoryCounts extends CountColumns {
  category: ArrayLike<number>;
}

export interface CategoryOptions extends FitOptions {
  categoryCount: number;
  /** 1/σ² of the prior on how far an entrant's strength in one category is from its own average, in 1/logit². */
  ridgeCategory: number;
}

export interface CategoryFit {
  /** Strength in the average category, in logits; null without ballots. */
  theta: (number | null)[];
  /** Per entrant and category the departure from it. */
  u: (number | null)[][];
  thetaCategory: (number | null)[][];
  cuts: (number | null)[];
  delta: number | null;
  penalizedLogLik: number;
  seTheta: (number | null)[];
  seThetaCategory: (number | null)[][];
}

/**
 * Ratings by category with partial pooling: theta_m + u_{m,c}, with thresholds and the left place's favour shared, the joint mode
 * under normal priors on theta and u. A category in which an entrant has few ballots stays near its average; an empty one is
 * the average, with the prior's uncertainty. `theta` is the strength in the average category, not the overall rating, which weights
 * categories by their ballots.
 *
 * Standard errors are of contrasts to the mean of the component, as everywhere: the means, which no ballot says anything of, carry
 * no variance.
 *
 * @throws TourneyError INVALID_INPUT for malformed counts, or when without priors no finite maximum exists.
 */
export function fitCategories(entrantCount: number, counts: CategoryCounts, options: CategoryOptions): CategoryFit {
  checkCounts(entrantCount, options.K, counts);
  checkCategories(counts, options.categoryCount);
  const layout = layOut(entrantCount, counts, options);
  const { size, firstCutSlot } = layout;
  const start = new Float64Array(size);
  start.set(layout.scale.startCuts, firstCutSlot);
  const found = maximise(
    {
      evaluate: createEvaluation(layout),
      isInside: (x) => x.subarray(firstCutSlot).every((cut, j, cuts) => cut > (j === 0 ? 0 : cuts[j - 1]!)),
    },
    start,
  );
  const factored = found && factor(found.at.information);
  const isFar = found?.x.some((value) => Math.abs(value) > 1e3) ?? true;
  if (found === null || factored === null || isFar) {
    throw new TourneyError("INVALID_INPUT", {
      message: "These ballots have no finite best rating by category.",
      reason: "Some strength, or the favour of the left place, is held neither by ballots nor by a prior.",
      remedy: "Set ridge, ridgeCategory and, with side, ridgeSide above 0, such as 0.1, 1 and 0.1.",
    });
  }
  return describe(layout, found.x, found.at.value, invertFactored(factored));
}

function checkCategories({ category }: CategoryCounts, categoryCount: number): void {
  for (let r = 0; r < category.length; r++) {
    const own = category[r]!;
    if (Number.isInteger(own) && own >= 0 && own < categoryCount) continue;
    throw new TourneyError("INVALID_INPUT", {
      message: `Row ${r + 1} of the ballots has category ${own}, but there are ${categoryCount}, numbered from 0.`,
      reason: "A ballot counts for the category of its prompt.",
      remedy: "Correct the row, or name the category in categoryNames.",
    });
  }
}

type Layout = ReturnType<typeof layOut>;

/** Parameters: theta of all entrants, then u entrant by entrant, then delta, then the thresholds. */
function layOut(entrantCount: number, counts: CategoryCounts, options: CategoryOptions) {
  const totals = Array.from({ length: options.K + 1 }, () => 0);
  for (let r = 0; r < counts.n.length; r++) totals[counts.outcome[r]!]! += counts.n[r]!;
  const scale = reduceScale(options.K, totals);
  const groups = groupRows(
    counts,
    scale,
    (left, right, category) => (left * entrantCount + right) * options.categoryCount + category,
  );
  const firstDeltaSlot = entrantCount * (1 + options.categoryCount);
  const firstCutSlot = firstDeltaSlot + (options.side ? 1 : 0);
  return {
    ...options,
    entrantCount,
    scale,
    component: findComponents(entrantCount, ...sidesOf(groups)),
    groups,
    departureSlot: (entrant: number, category: number) => entrantCount + entrant * options.categoryCount + category,
    deltaSlot: options.side ? firstDeltaSlot : null,
    firstCutSlot,
    size: firstCutSlot + Math.max(0, Math.floor((scale.reducedK - 1) / 2)),
  };
}

/** The rows of one pair in one category together, which have one key. */
function groupRows(
  counts: CategoryCounts,
  { reducedK, toReduced }: OutcomeScale,
  keyOf: (left: number, right: number, category: number) => number,
) {
  const groups = new Map<number, { left: number; right: number; category: number; counts: Float64Array }>();
  for (let r = 0; r < counts.n.length; r++) {
    if (counts.n[r] === 0) continue;
    const [left, right, category] = [counts.left[r]!, counts.right[r]!, counts.category[r]!];
    const key = keyOf(left, right, category);
    const group = groups.get(key) ?? { left, right, category, counts: new Float64Array(reducedK) };
    groups.set(key, group);
    group.counts[toReduced[counts.outcome[r]!]! - 1]! += counts.n[r]!;
  }
  return [...groups.values()];
}

const sidesOf = (groups: readonly { left: number; right: number }[]): [left: number[], right: number[]] => [
  groups.map(({ left }) => left),
  groups.map(({ right }) => right),
];

function createEvaluation(layout: Layout) {
  const { groups, departureSlot, deltaSlot, firstCutSlot, scale } = layout;
  const likelihood = new PairLikelihood(scale.reducedK, Float64Array.from(groups.flatMap(({ counts }) => [...counts])));
  const { cutCount } = likelihood;
  /** The parameters that eta of each group is the sum of, with their signs. */
  const terms = groups.map(({ left, right, category }): [number, 1 | -1][] => [
    [left, 1],
    [departureSlot(left, category), 1],
    [right, -1],
    [departureSlot(right, category), -1],
    ...(deltaSlot === null ? [] : [[deltaSlot, 1] as [number, 1]]),
  ]);
  return (x: Float64Array, into: Evaluation) => {
    const { gradient, information } = into;
    gradient.fill(0);
    information.data.fill(0);
    const eta = Float64Array.from(terms, (own) => own.reduce((sum, [slot, sign]) => sum + sign * x[slot]!, 0));
    const logLik = likelihood.evaluate(eta, x.subarray(firstCutSlot));
    for (const [at, own] of terms.entries()) {
      for (const [slot, sign] of own) {
        gradient[slot]! += sign * likelihood.slope[at]!;
        for (const [other, otherSign] of own)
          information.add(slot, other, -sign * otherSign * likelihood.curvature[at]!);
        for (let j = 0; j < cutCount; j++) {
          const mixed = -sign * likelihood.mixed[at * cutCount + j]!;
          information.add(slot, firstCutSlot + j, mixed);
          information.add(firstCutSlot + j, slot, mixed);
        }
      }
    }
    for (let i = 0; i < cutCount; i++) {
      gradient[firstCutSlot + i] = likelihood.cutSlope[i]!;
      for (let j = 0; j < cutCount; j++)
        information.add(firstCutSlot + i, firstCutSlot + j, -likelihood.cutCurvature[i * cutCount + j]!);
    }
    into.value = logLik - addPriors(layout, x, into);
  };
}

/** Adds what the priors give to the derivatives; returns what they take from the value. */
function addPriors(layout: Layout, x: Float64Array, { gradient, information }: Evaluation): number {
  let penalty = 0;
  for (let slot = 0; slot < layout.firstCutSlot; slot++) {
    const weight =
      slot < layout.entrantCount ? layout.ridge : slot === layout.deltaSlot ? layout.ridgeSide : layout.ridgeCategory;
    penalty += (weight / 2) * x[slot]! ** 2;
    gradient[slot]! -= weight * x[slot]!;
    information.add(slot, slot, weight);
  }
  return penalty;
}

function describe(layout: Layout, x: Float64Array, value: number, covariance: SquareMatrix): CategoryFit {
  const { entrantCount, categoryCount, component, departureSlot, deltaSlot, firstCutSlot, scale } = layout;
  const entrants = Array.from({ length: entrantCount }, (_, m) => m);
  const categories = Array.from({ length: categoryCount }, (_, c) => c);
  const ifRated = <T>(m: number, of: () => T): T | null => (component[m] === -1 ? null : of());
  /** The standard error of what some parameters of an entrant add up to, against the mean of that in its component. */
  const errorOf = (m: number, slotsOf: (entrant: number) => number[]): number => {
    const peers = entrants.filter((other) => component[other] === component[m]);
    const weights = new Float64Array(layout.size);
    for (const peer of peers) for (const slot of slotsOf(peer)) weights[slot]! -= 1 / peers.length;
    for (const slot of slotsOf(m)) weights[slot]! += 1;
    return Math.sqrt(Math.max(0, covariance.bilinear(weights, weights)));
  };
  return {
    theta: entrants.map((m) => ifRated(m, () => x[m]!)),
    u: entrants.map((m) => categories.map((c) => ifRated(m, () => x[departureSlot(m, c)]!))),
    thetaCategory: entrants.map((m) => categories.map((c) => ifRated(m, () => x[m]! + x[departureSlot(m, c)]!))),
    cuts:
      scale.reducedK <= 1
        ? restoreCuts(scale, []).map(() => null)
        : restoreCuts(scale, Array.from(x.slice(firstCutSlot))),
    delta: deltaSlot === null ? null : x[deltaSlot]!,
    penalizedLogLik: value,
    seTheta: entrants.map((m) => ifRated(m, () => errorOf(m, (entrant) => [entrant]))),
    seThetaCategory: entrants.map((m) =>
      categories.map((c) => ifRated(m, () => errorOf(m, (entrant) => [entrant, departureSlot(entrant, c)]))),
    ),
  };
}
