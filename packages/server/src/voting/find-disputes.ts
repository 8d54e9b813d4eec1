import type { VotingReport } from "@tourney/core/contract";
import { makeNumbers, orderBy } from "@tourney/core/ratings";
import type { ReportBallots } from "./report-ballots.js";

const MOST_DISPUTES = 8;

type Dispute = Omit<VotingReport["disputes"][number], "promptTitle">;
type Ballots = Pick<ReportBallots, "prompts" | "sides" | "prompt" | "left" | "right" | "lean">;

/** Ballots on the same two entries: their places in the order, and how far their leans are apart. */
interface Contested {
  from: number;
  to: number;
  firstBallot: number;
  /** Variance of the leans, in squared notches. */
  spread: number;
}

const byWidth = (a: Contested, b: Contested): number =>
  b.spread - a.spread || b.to - b.from - (a.to - a.from) || a.firstBallot - b.firstBallot;

/**
 * Bouts of two entries with leans to both sides: the eight with the widest spread, the widest first.
 *
 * @param counting the places of the ballots that count
 */
export function findDisputes(ballots: Ballots, counting: Int32Array): Dispute[] {
  const { prompts, sides, prompt, left, right, lean } = ballots;
  // Sides are listed by their ids: which of two is the first does not hang on where it was shown.
  const [first, second] = [makeNumbers(counting.length, sides.length), makeNumbers(counting.length, sides.length)];
  for (let place = 0; place < counting.length; place++) {
    const [own, other] = [left[counting[place]!]!, right[counting[place]!]!];
    first[place] = Math.min(own, other);
    second[place] = Math.max(own, other);
  }
  const order = orderBy([first, second]);
  /** Below zero for the first of the two entries. */
  const leanAt = (place: number): number => {
    const ballot = counting[order[place]!]!;
    return left[ballot] === first[order[place]!] ? lean[ballot]! : -lean[ballot]!;
  };
  let widest: Contested[] = [];
  for (let from = 0, to = 0; from < order.length; from = to) {
    const [a, b] = [first[order[from]!]!, second[order[from]!]!];
    let [sum, squares, lowest, highest] = [0, 0, 0, 0];
    for (; to < order.length && first[order[to]!] === a && second[order[to]!] === b; to++) {
      const own = leanAt(to);
      sum += own;
      squares += own * own;
      lowest = Math.min(lowest, own);
      highest = Math.max(highest, own);
    }
    if (lowest === 0 || highest === 0) continue;
    const n = to - from;
    const found = { from, to, firstBallot: counting[order[from]!]!, spread: (n * squares - sum * sum) / (n * n) };
    const last = widest.at(MOST_DISPUTES - 1);
    if (last === undefined || byWidth(found, last) < 0)
      widest = [...widest, found].sort(byWidth).slice(0, MOST_DISPUTES);
  }
  return widest.map(({ from, to, firstBallot }) => {
    const [one, other] = [sides[first[order[from]!]!]!, sides[second[order[from]!]!]!];
    return {
      promptId: prompts[prompt[firstBallot]!]!.id,
      ...{ firstEntryId: one.id, secondEntryId: other.id },
      ...{ firstEntrantId: one.entrantId, secondEntrantId: other.entrantId },
      leans: Array.from({ length: to - from }, (_, place) => leanAt(from + place)),
    };
  });
}
