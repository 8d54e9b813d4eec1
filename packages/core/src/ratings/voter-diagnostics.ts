import { finish } from "../steps.js";
import { type BallotColumns, countBallots, type CountColumns, pickBallots, subtractCounts } from "./ballots.js";
import { differentiateOutcome } from "./cumulative-logit.js";
import { fitRatings, type FitOptions, type RatingFit } from "./fit-ratings.js";
import { measureAlpha } from "./ordinal-alpha.js";

export interface VoterDiagnostics {
  voter: number;
  ballots: number;
  left: number;
  right: number;
  even: number;
  /** Of the ballots that were not even, the share for the left; null without any. */
  leftShare: number | null;
  /** 95 % interval of it (Wilson 1927, without a correction for continuity). */
  leftShareCI: [number, number] | null;
  /** Exact two-sided binomial p of both sides being equally likely. */
  leftShareP: number | null;
  /** Pairs of ballots on one prompt with the sides exchanged. */
  repeats: number;
  /** Of the repeats, the share that leans the same way (even and even agree); null without any. */
  selfAgreement: number | null;
  /** Of the repeats, the share that is the same to the notch. */
  selfAgreementExact: number | null;
  /** Ballots that the others' ratings can be held against. */
  consensusBallots: number;
  /** Of those, the ones that were not even. */
  consensusDecisive: number;
  /** Of those that were not even, the share for the entrant that the others rate higher. */
  consensusAgreement: number | null;
  /** Mean log-probability of the ballots under the others' fit. */
  consensusLogScore: number | null;
}

export interface PanelDiagnostics {
  voters: VoterDiagnostics[];
  /** Agreement on the same pair on the same prompt, independent of how entrants are numbered; null without two such values. */
  alpha: number | null;
  alphaUnsymmetrised: number | null;
  alphaUnits: number;
}

/**
 * How each voter votes, and how well they agree. Leans of a voter that differ from the others' are no fault by themselves: the
 * figures measure the closeness of the entrants too.
 *
 * @param options of the fits without one voter each.
 * @throws TourneyError INVALID_INPUT for a ballot that cannot be one.
 */
export function diagnoseVoters(entrantCount: number, ballots: BallotColumns, options: FitOptions): PanelDiagnostics {
  return finish(diagnoseInSteps(entrantCount, ballots, options));
}

/** The same, one voter at a step, for whoever has something else to do in between. */
export function* diagnoseInSteps(
  entrantCount: number,
  ballots: BallotColumns,
  options: FitOptions,
): Generator<undefined, PanelDiagnostics> {
  const all = countBallots(entrantCount, options.K, ballots);
  const byVoter = new Map<number, number[]>();
  for (let b = 0; b < ballots.outcome.length; b++) {
    const own = byVoter.get(ballots.voter[b]!);
    if (own) own.push(b);
    else byVoter.set(ballots.voter[b]!, [b]);
  }
  const units = listUnits(ballots, options.K);
  const near = fitOrNull(entrantCount, all, options);
  const voters: VoterDiagnostics[] = [];
  for (const [voter, own] of [...byVoter.entries()].toSorted(([a], [b]) => a - b)) {
    voters.push({
      voter,
      ballots: own.length,
      ...countSides(ballots, own, options.K),
      ...compareRepeats(ballots, own, options.K),
      ...compareWithOthers(entrantCount, { ballots, all, own, near }, options),
    });
    yield undefined;
  }
  return {
    voters,
    alpha: measureAlpha(units, options.K, "ordinal", true),
    alphaUnsymmetrised: measureAlpha(units, options.K, "ordinal"),
    alphaUnits: units.filter((values) => values.length >= 2).length,
  };
}

function countSides(ballots: BallotColumns, own: readonly number[], K: number) {
  const middle = (K + 1) / 2;
  const left = own.filter((b) => ballots.outcome[b]! < middle).length;
  const right = own.filter((b) => ballots.outcome[b]! > middle).length;
  const decisive = left + right;
  return {
    left,
    right,
    even: own.length - decisive,
    leftShare: decisive === 0 ? null : left / decisive,
    leftShareCI: decisive === 0 ? null : wilsonInterval(left, decisive),
    leftShareP: decisive === 0 ? null : signTest(left, decisive),
  };
}

/** The 97.5 % point of the standard normal distribution. */
const Z = 1.959963984540054;

/** The 95 % interval of a share (Wilson 1927), without a correction for continuity. Requires total > 0. */
export function wilsonInterval(count: number, total: number): [number, number] {
  const share = count / total;
  const centre = share + Z ** 2 / (2 * total);
  const reach = Z * Math.sqrt((share * (1 - share)) / total + Z ** 2 / (4 * total ** 2));
  const scale = 1 + Z ** 2 / total;
  return [Math.max(0, (centre - reach) / scale), Math.min(1, (centre + reach) / scale)];
}

/**
 * The exact two-sided p of a count among equally likely halves: the probability of all counts that are no more likely than it
 * (Arbuthnot 1710). Requires total > 0.
 */
export function signTest(count: number, total: number): number {
  const fewer = Math.min(count, total - count);
  if (2 * fewer === total) return 1;
  let logTerm = -total * Math.LN2;
  for (let i = 0; i < fewer; i++) logTerm += Math.log((total - i) / (i + 1));
  // From the likeliest of the tail down.
  let term = Math.exp(logTerm);
  let tail = 0;
  for (let k = fewer; k >= 0 && term > 0; k--) {
    tail += term;
    term *= k / (total - k + 1);
  }
  return Math.min(1, 2 * tail);
}

function compareRepeats({ prompt, left, right, outcome }: BallotColumns, own: readonly number[], K: number) {
  const middle = (K + 1) / 2;
  const byPair = new Map<string, number[]>();
  let [repeats, same, exact] = [0, 0, 0];
  for (const b of own) {
    for (const other of byPair.get(`${prompt[b]} ${right[b]} ${left[b]}`) ?? []) {
      repeats++;
      if (Math.sign(outcome[b]! - middle) === -Math.sign(outcome[other]! - middle)) same++;
      if (outcome[b]! === K + 1 - outcome[other]!) exact++;
    }
    const key = `${prompt[b]} ${left[b]} ${right[b]}`;
    byPair.set(key, [...(byPair.get(key) ?? []), b]);
  }
  return {
    repeats,
    selfAgreement: repeats === 0 ? null : same / repeats,
    selfAgreementExact: repeats === 0 ? null : exact / repeats,
  };
}

function compareWithOthers(
  entrantCount: number,
  {
    ballots,
    all,
    own,
    near,
  }: { ballots: BallotColumns; all: CountColumns; own: readonly number[]; near: RatingFit | null },
  options: FitOptions,
): Pick<VoterDiagnostics, "consensusBallots" | "consensusDecisive" | "consensusAgreement" | "consensusLogScore"> {
  const nothing = { consensusBallots: 0, consensusDecisive: 0, consensusAgreement: null, consensusLogScore: null };
  const others = subtractCounts(all, countBallots(entrantCount, options.K, pickBallots(ballots, own)));
  const fit = fitOrNull(entrantCount, others, options, near);
  if (fit === null) return nothing;
  const middle = (options.K + 1) / 2;
  const scored = own.filter((b) => {
    const component = fit.component[ballots.left[b]!]!;
    return component !== -1 && component === fit.component[ballots.right[b]!];
  });
  if (scored.length === 0) return nothing;
  const decisive = scored.filter((b) => ballots.outcome[b] !== middle);
  const agreeing = decisive.filter(
    (b) => fit.theta[ballots.left[b]!]! > fit.theta[ballots.right[b]!]! === ballots.outcome[b]! < middle,
  );
  const logScore = scored.reduce((sum, b) => sum + logProbability(fit, ballots, b), 0) / scored.length;
  return {
    consensusBallots: scored.length,
    consensusDecisive: decisive.length,
    consensusAgreement: decisive.length === 0 ? null : agreeing.length / decisive.length,
    // An outcome that the others never used has no probability at all.
    consensusLogScore: Number.isFinite(logScore) ? logScore : null,
  };
}

/** The others' fit, or null where without a prior their ballots have none. */
function fitOrNull(
  entrantCount: number,
  counts: CountColumns,
  options: FitOptions,
  near: RatingFit | null = null,
): RatingFit | null {
  try {
    return fitRatings(entrantCount, counts, options, near);
  } catch (error) {
    if (options.ridge > 0 && options.ridgeSide > 0) throw error;
    return null;
  }
}

function logProbability(
  { model, delta, theta }: RatingFit,
  { left, right, outcome }: BallotColumns,
  b: number,
): number {
  const { scale, x, firstCutSlot } = model;
  const k = scale.toReduced[outcome[b]!]!;
  if (k === 0) return -Infinity;
  if (scale.reducedK === 1) return 0;
  const eta = theta[left[b]!]! - theta[right[b]!]! + (delta ?? 0);
  return differentiateOutcome(k, scale.reducedK, eta, x.subarray(firstCutSlot)).logP;
}

/** Outcomes by pair and prompt, seen from the lower-numbered entrant; a voter's first ballot on each counts. */
function listUnits({ voter, prompt, left, right, outcome }: BallotColumns, K: number): number[][] {
  const units = new Map<string, Map<number, number>>();
  for (let b = 0; b < outcome.length; b++) {
    const [low, high] = left[b]! < right[b]! ? [left[b], right[b]] : [right[b], left[b]];
    const key = `${prompt[b]} ${low} ${high}`;
    const values = units.get(key) ?? new Map<number, number>();
    units.set(key, values);
    if (!values.has(voter[b]!)) values.set(voter[b]!, left[b] === low ? outcome[b]! : K + 1 - outcome[b]!);
  }
  return [...units.values()].map((values) => [...values.values()]);
}
