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
  const timesMet = byFirst(tally.ofPairsWith, (counts, { b }) => counts.get(b) ?? 0);
  if ((situation.newcomer ?? null) !== null) return chooseForNewcomer(situation, open, random);
  const least = pickLeast(open, timesMet, random);
  const times = timesMet(least);
  if (times < rules.coverPairs) return { pair: least, reason: `these two had met ${times} times` };
  if (random() < rules.uniformShare) return { pair: least, reason: `the pair compared least, ${times} times` };
  const newcomers = findNewcomers(situation);
  const ofNewcomers = newcomers.size === 0 ? [] : open.filter(({ a, b }) => newcomers.has(a) || newcomers.has(b));
  const isForNew = ofNewcomers.length > 0 && random() < rules.newEntrantShare;
  const among = isForNew ? ofNewcomers : open;
  const { pair: best, value } = chooseBestTeacher(knowledge, among, random);
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

/** A measure of pairs. They come in the order of the first of each, of whom is looked up once what the measure needs. */
function byFirst<T>(lookUp: (first: string) => T, measure: (found: T, pair: Pair) => number): (pair: Pair) => number {
  let last: { first: string; found: T } | null = null;
  return (pair) => {
    if (last?.first !== pair.a) last = { first: pair.a, found: lookUp(pair.a) };
    return measure(last.found, pair);
  };
}

/** The pair on which one more ballot teaches most, and how much that is: 0 where the fit does not know both. */
function chooseBestTeacher(
  knowledge: Knowledge | null,
  pairs: readonly Pair[],
  random: Random,
): { pair: Pair; value: number } {
  if (knowledge === null) return { pair: pickOne(pairs, random), value: 0 };
  const { numberOf, teacher } = knowledge;
  const teachesLittle = byFirst(
    (first) => numberOf.get(first),
    (i, { b }) => {
      const j = numberOf.get(b);
      return i === undefined || j === undefined ? 0 : -teacher.valueOf(i, j);
    },
  );
  const pair = pickLeast(pairs, teachesLittle, random);
  return { pair, value: -teachesLittle(pair) };
}

/** Where its ballots say nothing yet, whoever stands in the middle halves what is possible; then the one that teaches most. */
function chooseForNewcomer(
  { tally, knowledge, newcomer }: Situation,
  open: readonly Pair[],
  random: Random,
): { pair: Pair; reason: string } {
  const { pair: best, value } = chooseBestTeacher(knowledge, open, random);
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
  /** Pairs of entrants that this voter has not seen on one of the prompts whose turn it is: those that this voter saw least, of those on which anything is left. */
  pairs: readonly Pair[];
  /** Those of the prompts on which this voter has not seen a pair. */
  promptsOf: (pair: Pair) => string[];
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
  const openOn = (promptId: string) => {
    const [own, canMeet] = [seen.get(promptId), exhibition.canMeetOn(promptId)];
    return own === undefined ? canMeet : (pair: Pair) => !own.has(pairKey(pair.a, pair.b)) && canMeet(pair);
  };
  const { pairs: all } = exhibition;
  const asked = newcomer === null ? all : all.filter(({ a, b }) => a === newcomer || b === newcomer);
  const timesSeen = (promptId: string) => times.get(promptId) ?? 0;
  for (const least of [...new Set(prompts.map(timesSeen))].toSorted((a, b) => a - b)) {
    const inTurn = prompts.filter((id) => timesSeen(id) === least);
    const areOpen = inTurn.map(openOn);
    // Mostly there is a prompt of which a voter has seen nothing, and on which all can meet.
    const isAllOpen = inTurn.some((id) => !seen.has(id) && exhibition.canAllMeetOn(id));
    const pairs = isAllOpen ? asked : asked.filter((pair) => areOpen.some((isOpen) => isOpen(pair)));
    if (pairs.length > 0) return { pairs, promptsOf: (pair) => inTurn.filter((_, at) => areOpen[at]!(pair)) };
  }
  return null;
}

/** Entrants with less than half the usual number of bouts. */
function findNewcomers({ exhibition, tally }: Situation): Set<string> {
  const usual = median(exhibition.entrants.map(tally.ofEntrant)) ?? 0;
  return new Set(exhibition.entrants.filter((id) => tally.ofEntrant(id) < usual / 2));
}

/** The prompt on which the pair met least, of those the one shown least. */
function choosePrompt({ tally }: Situation, { promptsOf }: Open, pair: Pair, random: Random): string {
  const least = keepLeast(promptsOf(pair), (id) => tally.ofPairOnPrompt(id, pair.a, pair.b));
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
