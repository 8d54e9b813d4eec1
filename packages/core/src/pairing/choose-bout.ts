import { median } from "../stats/index.js";
import { pickOne, type Random } from "../random.js";
import { type BoutTally, pairKey } from "./bout-tally.js";
import type { Candidate, Exhibition, Pair } from "./exhibition.js";
import type { Teacher } from "./teaching.js";

/** A bout that was put before this voter, in order. */
export interface OwnBout {
  promptId: string;
  left: Candidate;
  right: Candidate;
  isRepeat: boolean;
}

export interface PairingRules {
  /** Of the bouts, the share that is put before the voter once more with the sides exchanged. */
  repeatShare: number;
  /** Of the bouts that are chosen, the share that goes to the pair compared least, whatever it teaches. */
  uniformShare: number;
  /** Every pair of entrants is compared so often before pairs are chosen by what they teach. */
  coverPairs: number;
  /** Of the bouts, the share that goes to entrants with less than half the usual number of bouts, while there are any. */
  newEntrantShare: number;
}

export const PAIRING_RULES: PairingRules = {
  repeatShare: 0.05,
  uniformShare: 0.2,
  coverPairs: 1,
  newEntrantShare: 0.4,
};

/** A repeat comes after at least so many other bouts. */
const REPEAT_AFTER = 5;

/** What the ballots so far say, by the numbers that the fit gave the entrants. */
export interface Knowledge {
  teacher: Teacher;
  numberOf: ReadonlyMap<string, number>;
}

export interface ChosenBout {
  promptId: string;
  left: Candidate;
  right: Candidate;
  isRepeat: boolean;
  /** Why this one, in words for the lead. */
  reason: string;
}

export interface Situation {
  exhibition: Exhibition;
  /** Bouts of the whole panel, this voter's included. */
  tally: BoutTally;
  own: readonly OwnBout[];
  knowledge: Knowledge | null;
  rules: PairingRules;
  /** The one that stands in every bout, to be placed among the others with the fewest ballots. */
  newcomer?: string | null;
}

/**
 * The next bout for one voter, or null when nothing is left that this voter has not seen. Nobody sees two entrants on one prompt
 * twice, but for a share of repeats with the sides exchanged, by which it is seen how far a voter agrees with himself.
 *
 * Prompts take turns for each voter. On those whose turn it is, first every pair is covered; then a share of the bouts goes to the
 * pair compared least, a share to new entrants, and the rest to the pair from which a ballot teaches most (`Teacher`). Sides are
 * balanced for the pair and for the voter. Ties are drawn.
 */
export function chooseBout(situation: Situation, random: Random): ChosenBout | null {
  const { own, rules } = situation;
  const repeat = own.length > 0 && random() < rules.repeatShare ? chooseRepeat(own, random) : null;
  if (repeat) return repeat;
  const open = listOpen(situation);
  if (open === null) return null;
  const chosen = choosePair(situation, open.pairs, random);
  const promptId = choosePrompt(situation, open, chosen.pair, random);
  const sides = placeSides(situation, chosen.pair, random);
  const [left, right] = pickOne(situation.exhibition.meetingsOf(promptId, ...sides), random);
  return { promptId, left, right, isRepeat: false, reason: chosen.reason };
}

function chooseRepeat(own: readonly OwnBout[], random: Random): ChosenBout | null {
  const keyOf = ({ left, right }: OwnBout) => pairKey(left.entryId, right.entryId);
  const repeated = new Set(own.filter(({ isRepeat }) => isRepeat).map(keyOf));
  const open = own.slice(0, -REPEAT_AFTER).filter((bout) => !bout.isRepeat && !repeated.has(keyOf(bout)));
  if (open.length === 0) return null;
  const { promptId, left, right } = pickOne(open, random);
  return {
    promptId,
    left: right,
    right: left,
    isRepeat: true,
    reason: "seen before by this voter, the sides exchanged",
  };
}

function choosePair(situation: Situation, open: readonly Pair[], random: Random): { pair: Pair; reason: string } {
  const { tally, knowledge, rules } = situation;
  const timesMet = ({ a, b }: Pair) => tally.ofPair(a, b);
  if ((situation.newcomer ?? null) !== null) return chooseForNewcomer(situation, open, random);
  const least = pickLeast(open, timesMet, random);
  const times = timesMet(least);
  if (times < rules.coverPairs) return { pair: least, reason: `these two had met ${times} times` };
  if (random() < rules.uniformShare) return { pair: least, reason: `the pair compared least, ${times} times` };
  const newcomers = findNewcomers(situation);
  const ofNewcomers = open.filter(({ a, b }) => newcomers.has(a) || newcomers.has(b));
  const isForNew = ofNewcomers.length > 0 && random() < rules.newEntrantShare;
  const among = isForNew ? ofNewcomers : open;
  const valueOf = (pair: Pair) => teachesOf(knowledge, pair);
  const best = pickLeast(among, (pair) => -valueOf(pair), random);
  const value = valueOf(best);
  // Where the fit says nothing of anyone here, the least compared is as good as any.
  if (value === 0) {
    const pair = pickLeast(among, timesMet, random);
    return { pair, reason: `the pair compared least, ${timesMet(pair)} times, among those that nothing is known of` };
  }
  return {
    pair: best,
    reason: isForNew
      ? `a new entrant, and of its pairs the one that teaches most (${value.toPrecision(3)})`
      : `the pair that teaches most (${value.toPrecision(3)}), compared ${timesMet(best)} times`,
  };
}

/** What one more ballot on a pair teaches; 0 where the fit does not know both. */
function teachesOf(knowledge: Knowledge | null, { a, b }: Pair): number {
  const [i, j] = [knowledge?.numberOf.get(a), knowledge?.numberOf.get(b)];
  return i === undefined || j === undefined ? 0 : knowledge!.teacher.valueOf(i, j);
}

/** Where its ballots say nothing yet, whoever stands in the middle halves what is possible; then the one that teaches most. */
function chooseForNewcomer(
  { tally, knowledge, newcomer }: Situation,
  open: readonly Pair[],
  random: Random,
): { pair: Pair; reason: string } {
  const valueOf = (pair: Pair) => teachesOf(knowledge, pair);
  const best = pickLeast(open, (pair) => -valueOf(pair), random);
  const value = valueOf(best);
  if (value > 0) return { pair: best, reason: `places the newcomer: it teaches most (${value.toPrecision(3)})` };
  const fromMiddle = ({ a, b }: Pair): number => {
    const number = knowledge?.numberOf.get(a === newcomer ? b : a);
    return number === undefined ? Infinity : knowledge!.teacher.fromMiddle(number);
  };
  const unmet = keepLeast(open, ({ a, b }) => tally.ofPair(a, b));
  return {
    pair: pickLeast(unmet, fromMiddle, random),
    reason: "places the newcomer: against the middle of those rated",
  };
}

interface Open {
  /** The prompts that this voter saw least, of those on which anything is left. */
  prompts: readonly string[];
  /** Pairs of entrants that this voter has not seen on one of them. */
  pairs: Pair[];
  isOpen: (promptId: string, pair: Pair) => boolean;
}

function listOpen({ exhibition, own, newcomer = null }: Situation): Open | null {
  const { prompts } = exhibition;
  // By prompt: on most of them a voter has seen nothing, and nothing is looked up there.
  const seen = new Map<string, Set<string>>();
  const times = new Map<string, number>();
  for (const { promptId, left, right } of own) {
    const pairs = seen.get(promptId) ?? new Set();
    seen.set(promptId, pairs.add(pairKey(left.competitorId, right.competitorId)));
    times.set(promptId, (times.get(promptId) ?? 0) + 1);
  }
  const isOpen = (promptId: string, pair: Pair) =>
    seen.get(promptId)?.has(pairKey(pair.a, pair.b)) !== true && exhibition.canMeet(promptId, pair);
  const asked = exhibition.pairs.filter(({ a, b }) => newcomer === null || a === newcomer || b === newcomer);
  const timesSeen = (promptId: string) => times.get(promptId) ?? 0;
  for (const least of [...new Set(prompts.map(timesSeen))].toSorted((a, b) => a - b)) {
    const inTurn = prompts.filter((id) => timesSeen(id) === least);
    const pairs = asked.filter((pair) => inTurn.some((id) => isOpen(id, pair)));
    if (pairs.length > 0) return { prompts: inTurn, pairs, isOpen };
  }
  return null;
}

/** Entrants with less than half the usual number of bouts. */
function findNewcomers({ exhibition, tally }: Situation): Set<string> {
  const usual = median(exhibition.entrants.map(tally.ofEntrant)) ?? 0;
  return new Set(exhibition.entrants.filter((id) => tally.ofEntrant(id) < usual / 2));
}

/** The prompt on which the pair met least, of those the one shown least. */
function choosePrompt({ tally }: Situation, { prompts, isOpen }: Open, pair: Pair, random: Random): string {
  const open = prompts.filter((id) => isOpen(id, pair));
  const least = keepLeast(open, (id) => tally.ofPairOnPrompt(id, pair.a, pair.b));
  return pickLeast(least, tally.onPrompt, random);
}

/** The one that stood left less often, against the other and before this voter, goes left; a draw decides ties. */
function placeSides({ tally, own }: Situation, { a, b }: Pair, random: Random): readonly [string, string] {
  let lead = tally.sideLead(a, b);
  for (const { left, right } of own) {
    for (const [id, sign] of [
      [a, 1],
      [b, -1],
    ] as const)
      lead += sign * (Number(left.competitorId === id) - Number(right.competitorId === id));
  }
  const isLeft = lead === 0 ? random() < 0.5 : lead < 0;
  return isLeft ? [a, b] : [b, a];
}

function keepLeast<T>(items: readonly T[], measure: (item: T) => number): T[] {
  let least = Infinity;
  let kept: T[] = [];
  for (const item of items) {
    const value = measure(item);
    if (value < least) [least, kept] = [value, []];
    if (value === least) kept.push(item);
  }
  return kept;
}

const pickLeast = <T>(items: readonly T[], measure: (item: T) => number, random: Random): T =>
  pickOne(keepLeast(items, measure), random);
