import { finish } from "../steps.js";
import { type BallotColumns, countBallots, orderBy, pickBallots } from "./ballots.js";
import { logProbability } from "./cumulative-logit.js";
import type { FitOptions } from "./fit-problem.js";
import { type BareFit, FitsWithout } from "./fits-without.js";
import { makeNumbers, type Numbers } from "./numbers.js";
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

type Columns = Record<keyof BallotColumns, Numbers>;

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
  const voters = finish(diagnoseInSteps(entrantCount, ballots, options));
  const units = listUnits(entrantCount, ballots, options.K);
  return {
    voters,
    alpha: measureAlpha(units, options.K, "ordinal", true),
    alphaUnsymmetrised: measureAlpha(units, options.K, "ordinal"),
    alphaUnits: units.length,
  };
}

/** How each voter votes, one voter at a step, for whoever has something else to do in between. */
export function* diagnoseInSteps(
  entrantCount: number,
  ballots: BallotColumns,
  options: FitOptions,
): Generator<undefined, VoterDiagnostics[]> {
  const fits = new FitsWithout(entrantCount, countBallots(entrantCount, options.K, ballots), options);
  yield undefined;
  const voters: VoterDiagnostics[] = [];
  for (const { voter, own } of groupByVoter(ballots)) {
    voters.push({
      ...{ voter, ballots: own.outcome.length },
      ...countSides(own, options.K),
      ...compareRepeats(entrantCount, own, options.K),
      ...compareWithOthers(entrantCount, { fits, own }, options),
    });
    yield undefined;
  }
  return voters;
}

/** Each voter's ballots in the order in which they came, the voter with the lowest number first. */
function groupByVoter(ballots: BallotColumns): { voter: number; own: Columns }[] {
  const sorted = pickBallots(ballots, orderBy([ballots.voter]));
  const { voter, prompt, left, right, outcome } = sorted;
  const groups: { voter: number; own: Columns }[] = [];
  for (let from = 0, to = 0; from < voter.length; from = to) {
    while (to < voter.length && voter[to] === voter[from]) to++;
    const cut = (column: Numbers) => column.subarray(from, to);
    groups.push({
      voter: voter[from]!,
      own: {
        ...{ voter: cut(voter), prompt: cut(prompt), left: cut(left), right: cut(right), outcome: cut(outcome) },
      },
    });
  }
  return groups;
}

function countSides({ outcome }: Columns, K: number) {
  const middle = (K + 1) / 2;
  let [left, right] = [0, 0];
  for (const k of outcome) {
    if (k < middle) left++;
    else if (k > middle) right++;
  }
  const decisive = left + right;
  return {
    left,
    right,
    even: outcome.length - decisive,
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

function compareRepeats(entrantCount: number, { prompt, left, right, outcome }: Columns, K: number) {
  const middle = (K + 1) / 2;
  const keyOf = (b: number, first: Numbers, second: Numbers) =>
    (prompt[b]! * entrantCount + first[b]!) * entrantCount + second[b]!;
  const byPair = new Map<number, number[]>();
  let [repeats, same, exact] = [0, 0, 0];
  for (let b = 0; b < outcome.length; b++) {
    for (const other of byPair.get(keyOf(b, right, left)) ?? []) {
      repeats++;
      if (Math.sign(outcome[b]! - middle) === -Math.sign(outcome[other]! - middle)) same++;
      if (outcome[b]! === K + 1 - outcome[other]!) exact++;
    }
    const key = keyOf(b, left, right);
    const before = byPair.get(key);
    if (before === undefined) byPair.set(key, [b]);
    else before.push(b);
  }
  return {
    repeats,
    selfAgreement: repeats === 0 ? null : same / repeats,
    selfAgreementExact: repeats === 0 ? null : exact / repeats,
  };
}

function compareWithOthers(
  entrantCount: number,
  { fits, own }: { fits: FitsWithout; own: Columns },
  options: FitOptions,
): Pick<VoterDiagnostics, "consensusBallots" | "consensusDecisive" | "consensusAgreement" | "consensusLogScore"> {
  const nothing = { consensusBallots: 0, consensusDecisive: 0, consensusAgreement: null, consensusLogScore: null };
  const fit = fits.fit(countBallots(entrantCount, options.K, own));
  if (fit === null) return nothing;
  const middle = (options.K + 1) / 2;
  const cuts = fit.model.x.subarray(fit.model.firstCutSlot);
  let [scored, decisive, agreeing, logScore] = [0, 0, 0, 0];
  for (let b = 0; b < own.outcome.length; b++) {
    const [left, right, outcome] = [own.left[b]!, own.right[b]!, own.outcome[b]!];
    if (fit.component[left] === -1 || fit.component[left] !== fit.component[right]) continue;
    scored++;
    logScore += logScoreOf(fit, cuts, { left, right, outcome });
    if (outcome === middle) continue;
    decisive++;
    if (fit.theta[left]! > fit.theta[right]! === outcome < middle) agreeing++;
  }
  if (scored === 0) return nothing;
  return {
    consensusBallots: scored,
    consensusDecisive: decisive,
    consensusAgreement: decisive === 0 ? null : agreeing / decisive,
    // An outcome that the others never used has no probability at all.
    consensusLogScore: Number.isFinite(logScore) ? logScore / scored : null,
  };
}

function logScoreOf(
  { model, delta, theta }: BareFit,
  cuts: Float64Array,
  { left, right, outcome }: { left: number; right: number; outcome: number },
): number {
  const { scale } = model;
  const k = scale.toReduced[outcome]!;
  if (k === 0) return -Infinity;
  if (scale.reducedK === 1) return 0;
  const eta = theta[left]! - theta[right]! + (delta ?? 0);
  return logProbability(k, scale.reducedK, eta, cuts);
}

/**
 * Outcomes by pair and prompt, seen from the lower-numbered entrant; a voter's first ballot on each counts. Those with fewer than two say nothing of agreement and are
 * left out.
 */
function listUnits(
  entrantCount: number,
  { voter, prompt, left, right, outcome }: BallotColumns,
  K: number,
): number[][] {
  const { length } = outcome;
  const [low, high] = [makeNumbers(length, entrantCount), makeNumbers(length, entrantCount)];
  for (let b = 0; b < length; b++) {
    low[b] = Math.min(left[b]!, right[b]!);
    high[b] = Math.max(left[b]!, right[b]!);
  }
  const order = orderBy([prompt, low, high]);
  const isSameUnit = (a: number, b: number) => prompt[a] === prompt[b] && low[a] === low[b] && high[a] === high[b];
  const units: number[][] = [];
  for (let from = 0, to = 0; from < length; from = to) {
    while (to < length && isSameUnit(order[to]!, order[from]!)) to++;
    if (to - from < 2) continue;
    const seen = new Set<number>();
    const values: number[] = [];
    for (const b of order.subarray(from, to)) {
      if (seen.has(voter[b]!)) continue;
      seen.add(voter[b]!);
      values.push(left[b] === low[b] ? outcome[b]! : K + 1 - outcome[b]!);
    }
    if (values.length >= 2) units.push(values);
  }
  return units;
}
