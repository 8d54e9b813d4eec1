import type { ClusterCounts } from "./ballots.js";

/** How voters took one prompt. */
export interface PromptAgreement {
  ballots: number;
  /** Share of its ballots that are even, 0–1; null without ballots. */
  evenShare: number | null;
  /**
   * Share of the deciding ballots that lie on the side which most took, 0.5–1, over pairs with at least two of them; null where there is none. One half is what
   * a coin gives on many ballots, and more than that on few.
   */
  agreement: number | null;
}

/**
 * How far voters agree on each prompt.
 *
 * @param counts ballots by prompt (`cluster`), pair and outcome, 1 to 5 with 3 as even; prompts are numbered from 0.
 */
export function measureAgreement(counts: ClusterCounts, promptCount: number): PromptAgreement[] {
  const totals = Array.from({ length: promptCount }, () => ({ ballots: 0, even: 0 }));
  const pairs = Array.from({ length: promptCount }, () => new Map<number, { lower: number; higher: number }>());
  for (let r = 0; r < counts.n.length; r++) {
    const [prompt, left, right] = [counts.cluster[r]!, counts.left[r]!, counts.right[r]!];
    const [outcome, n] = [counts.outcome[r]!, counts.n[r]!];
    totals[prompt]!.ballots += n;
    if (outcome === 3) {
      totals[prompt]!.even += n;
      continue;
    }
    const higher = Math.max(left, right);
    // Pairs are numbered by their higher entrant, then by their lower one.
    const key = (higher * (higher - 1)) / 2 + Math.min(left, right);
    const pair = pairs[prompt]!.get(key) ?? { lower: 0, higher: 0 };
    pairs[prompt]!.set(key, pair);
    pair[outcome < 3 === left < right ? "lower" : "higher"] += n;
  }
  return totals.map(({ ballots, even }, prompt) => {
    const told = [...pairs[prompt]!.values()].filter(({ lower, higher }) => lower + higher >= 2);
    const decided = told.reduce((sum, { lower, higher }) => sum + lower + higher, 0);
    const together = told.reduce((sum, { lower, higher }) => sum + Math.max(lower, higher), 0);
    return {
      ballots,
      evenShare: ballots === 0 ? null : even / ballots,
      agreement: decided === 0 ? null : together / decided,
    };
  });
}
