import { pickOne, type Random } from "../random.js";

/** An entry that may be shown: one take of one prompt by one entrant. */
export interface Candidate {
  entryId: string;
  promptId: string;
  entrantId: string;
}

/** A bout that was put before somebody. */
export interface PastBout {
  promptId: string;
  leftEntryId: string;
  rightEntryId: string;
  leftEntrantId: string;
  rightEntrantId: string;
  byThisVoter: boolean;
}

export interface ChosenBout {
  promptId: string;
  left: Candidate;
  right: Candidate;
  /** Why this one, in words for the lead. */
  reason: string;
}

const pairKey = (a: string, b: string) => (a < b ? `${a}|${b}` : `${b}|${a}`);

function tally(keys: Iterable<string>): Map<string, number> {
  const counts = new Map<string, number>();
  for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1);
  return counts;
}

/**
 * The next bout for one voter, or null when every pair of entries was put before this voter already.
 * Never the same two entries of a prompt twice. Among the rest, the prompt that this voter saw least comes first, then
 * the pair of entrants that has been compared least on any prompt, then the pair least compared on this prompt; ties are
 * drawn. Each entrant's entries come to the left and to the right equally often for the voter.
 *
 * @param candidates entries that may be shown.
 * @param past all bouts of the panel so far, by anyone.
 */
export function chooseBout(
  candidates: readonly Candidate[],
  past: readonly PastBout[],
  random: Random,
): ChosenBout | null {
  const own = past.filter(({ byThisVoter }) => byThisVoter);
  const seen = new Set(own.map((bout) => pairKey(bout.leftEntryId, bout.rightEntryId)));
  const open = listPairs(candidates).filter(({ a, b }) => !seen.has(pairKey(a.entryId, b.entryId)));
  if (open.length === 0) return null;

  const ownPrompts = tally(own.map(({ promptId }) => promptId));
  const pairTotals = tally(past.map((bout) => pairKey(bout.leftEntrantId, bout.rightEntrantId)));
  const pairOnPrompt = tally(
    past.map((bout) => `${bout.promptId} ${pairKey(bout.leftEntrantId, bout.rightEntrantId)}`),
  );
  const scored = open.map((pair) => {
    const entrants = pairKey(pair.a.entrantId, pair.b.entrantId);
    const counts = [
      ownPrompts.get(pair.a.promptId) ?? 0,
      pairTotals.get(entrants) ?? 0,
      pairOnPrompt.get(`${pair.a.promptId} ${entrants}`) ?? 0,
    ] as const;
    return { pair, counts };
  });
  const least = scored.reduce((best, next) => (isBefore(next.counts, best.counts) ? next : best));
  const ties = scored.filter(({ counts }) => counts.every((count, i) => count === least.counts[i]));
  const { pair, counts } = pickOne(ties, random);
  const [left, right] = placeSides(pair, own, random);
  return {
    promptId: left.promptId,
    left,
    right,
    reason: `prompt seen ${counts[0]} times by this voter; these entrants met ${counts[1]} times, ${counts[2]} on this prompt`,
  };
}

function listPairs(candidates: readonly Candidate[]): { a: Candidate; b: Candidate }[] {
  return candidates.flatMap((a, index) =>
    candidates
      .slice(index + 1)
      .filter((b) => b.promptId === a.promptId && b.entrantId !== a.entrantId)
      .map((b) => ({ a, b })),
  );
}

function isBefore(a: readonly number[], b: readonly number[]): boolean {
  const differing = a.findIndex((value, i) => value !== b[i]);
  return differing !== -1 && a[differing]! < b[differing]!;
}

/** The entrant that this voter saw on the left less often, compared with the other, goes left; a draw decides ties. */
function placeSides(
  { a, b }: { a: Candidate; b: Candidate },
  own: readonly PastBout[],
  random: Random,
): [Candidate, Candidate] {
  const lean = (entrantId: string) =>
    own.filter((bout) => bout.leftEntrantId === entrantId).length -
    own.filter((bout) => bout.rightEntrantId === entrantId).length;
  const difference = lean(a.entrantId) - lean(b.entrantId);
  const aLeft = difference === 0 ? random() < 0.5 : difference < 0;
  return aLeft ? [a, b] : [b, a];
}
