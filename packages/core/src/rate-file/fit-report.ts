import erfc from "@stdlib/math-base-special-erfc";
import { TourneyError } from "../errors.js";
import { countBallots, sortBallots } from "../ratings/ballots.js";
import { fitRatings, type RatingFit } from "../ratings/fit-ratings.js";
import {
  type PairTest,
  rankEntrants,
  rankRanges,
  rejectByBonferroni,
  rejectByHolm,
  rejectPerComponent,
} from "../ratings/ranks.js";
import { type Covariances, estimateCovariances, slotError, standardError } from "../ratings/uncertainty.js";
import { type FitFile, readBallots, readCounts } from "./input.js";

const ALPHA = 0.05;
const KINDS = ["naive", "voter", "prompt", "twoway"] as const;
type Kind = (typeof KINDS)[number];
type Matrices = Record<Kind, Covariances["naive"] | null>;

/** The whole of a fit for the command line: numbers unrounded, null for what has no value. */
export function reportFit({ input, options }: FitFile): Record<string, unknown> {
  const { entrants, K } = input;
  const size = entrants.length;
  const ballots = input.ballots && readBallots(input.ballots);
  if (!ballots && !input.counts) {
    throw new TourneyError("INVALID_INPUT", {
      message: "The file holds no ballots.",
      reason: "A fit needs input.counts, rows of [left, right, outcome, n], or input.ballots, columns of equal length.",
      remedy: "Add one of them; no ballots at all are an empty list.",
    });
  }
  const counts = ballots ? countBallots(size, K, ballots) : readCounts(input.counts!);
  const fit = fitRatings(size, counts, { K, ridge: options.ridge, side: options.side, ridgeSide: options.ridgeSide });
  const anchor = findAnchor(fit, options, entrants);
  const covariances = ballots ? estimateCovariances(fit, sortBallots(ballots)) : null;
  const matrices: Matrices = {
    naive: fit.model.covariance,
    voter: covariances?.voter ?? null,
    prompt: covariances?.prompt ?? null,
    twoway: covariances?.twoWay ?? null,
  };
  const kinds = ballots ? KINDS : (["naive"] as const);
  const byKind = <T>(of: (kind: Kind) => T) => Object.fromEntries(kinds.map((kind) => [kind, of(kind)]));
  const pairs = listPairs(fit);
  const degenerate = listDegenerate(fit);
  return {
    components: listComponents(fit.component),
    theta: fit.theta.map((theta, m) => shift(theta, anchor, fit.component[m]!)),
    rating: fit.theta.map((theta, m) => {
      const shifted = shift(theta, anchor, fit.component[m]!);
      const base = anchor !== null && fit.component[m] === anchor.component ? anchor.rating : options.base;
      return shifted === null ? null : base + options.scale * shifted;
    }),
    cuts: fit.cuts,
    ...(options.side ? { delta: fit.delta } : {}),
    logLik: fit.logLik,
    penalizedLogLik: fit.penalizedLogLik,
    se: byKind((kind) => describeErrors(fit, matrices[kind], anchor)),
    contrasts: pairs.map(({ i, j, difference }) => ({
      i,
      j,
      diff: difference,
      se: byKind((kind) => (matrices[kind] === null ? null : standardError(matrices[kind], fit.model, i, j))),
    })),
    rank: rankEntrants(fit.theta, fit.component),
    rankIntervals: byKind((kind) => describeRanks(fit, matrices[kind], pairs)),
    ...(covariances ? { clusters: covariances.clusters } : {}),
    ...(degenerate.length > 0 ? { degenerate } : {}),
  };
}

interface Anchor {
  entrant: number;
  component: number;
  theta: number;
  rating: number;
}

function findAnchor(fit: RatingFit, { anchor, base }: FitFile["options"], names: readonly string[]): Anchor | null {
  if (anchor === undefined) return null;
  const entrant = typeof anchor.entrant === "number" ? anchor.entrant : names.indexOf(anchor.entrant);
  const theta = fit.theta[entrant];
  if (theta === undefined || theta === null) {
    throw new TourneyError("INVALID_INPUT", {
      message: `The anchor ${JSON.stringify(anchor.entrant)} has no rating.`,
      reason: theta === null ? "It has no ballots." : `It is not one of the ${names.length} entrants.`,
      remedy: "Anchor the scale to an entrant that has ballots, or leave the anchor out.",
    });
  }
  return { entrant, component: fit.component[entrant]!, theta, rating: anchor.rating ?? base };
}

const shift = (theta: number | null, anchor: Anchor | null, component: number): number | null =>
  theta === null ? null : anchor !== null && component === anchor.component ? theta - anchor.theta : theta;

function listComponents(component: Int32Array): number[][] {
  const members: number[][] = [];
  component.forEach((number, entrant) => {
    if (number !== -1) (members[number] ??= []).push(entrant);
  });
  return members;
}

/** All pairs i < j that can be compared, in that order. */
function listPairs({ theta, component }: RatingFit): Omit<PairTest, "p">[] {
  const pairs: Omit<PairTest, "p">[] = [];
  for (let i = 0; i < theta.length; i++) {
    for (let j = i + 1; j < theta.length; j++) {
      if (component[i] === -1 || component[i] !== component[j]) continue;
      pairs.push({ i, j, difference: theta[i]! - theta[j]! });
    }
  }
  return pairs;
}

function describeErrors(fit: RatingFit, covariance: Covariances["naive"] | null, anchor: Anchor | null) {
  if (covariance === null) return null;
  const { model, component, theta, cuts } = fit;
  const isMerged = model.scale.reducedK !== model.scale.K;
  return {
    theta: theta.map((own, m) => {
      if (own === null) return null;
      if (anchor === null || component[m] !== anchor.component) return standardError(covariance, model, m);
      return m === anchor.entrant ? 0 : standardError(covariance, model, m, anchor.entrant);
    }),
    delta: model.deltaSlot === null ? null : slotError(covariance, model.deltaSlot),
    cuts: cuts.map((_, j) => (isMerged ? null : slotError(covariance, model.firstCutSlot + j))),
  };
}

/** Ranks by two-sided normal p, all pairs of a component corrected together. */
function describeRanks(fit: RatingFit, covariance: Covariances["naive"] | null, pairs: readonly Omit<PairTest, "p">[]) {
  if (covariance === null) return null;
  const tests = pairs.map((pair): PairTest => {
    const error = standardError(covariance, fit.model, pair.i, pair.j);
    const distance = Math.abs(pair.difference);
    const p = error === null ? 1 : error === 0 ? (distance === 0 ? 1 : 0) : erfc(distance / error / Math.SQRT2);
    return { ...pair, p };
  });
  const ranges = (reject: typeof rejectByHolm) =>
    rankRanges(
      fit.component,
      rejectPerComponent(tests, fit.component, (own) => reject(own, ALPHA)),
    );
  return { holm: ranges(rejectByHolm), bonferroni: ranges(rejectByBonferroni) };
}

/** Special cases that a reader of the numbers should know of. */
function listDegenerate({ model, theta }: RatingFit): string[] {
  const { K, reducedK } = model.scale;
  return [
    ...(reducedK === 0 ? ["no ballots"] : []),
    ...(reducedK === 1 ? ["all ballots even"] : []),
    ...(reducedK > 1 && reducedK < K ? ["outcomes that no ballot used were merged away"] : []),
    ...(reducedK > 0 && theta.includes(null) ? ["entrants without ballots"] : []),
  ];
}
