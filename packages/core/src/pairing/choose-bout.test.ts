import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { type Candidate, chooseBout, type PastBout } from "./choose-bout.js";

const grid = (prompts: number, entrants: number): Candidate[] =>
  Array.from({ length: prompts * entrants }, (_, i) => {
    const [promptId, entrantId] = [`p${Math.floor(i / entrants)}`, `e${i % entrants}`];
    return { entryId: `${promptId}${entrantId}`, promptId, entrantId };
  });

/** Lets voters take turns until nothing is left for any of them, or each has had `quota`. */
function play(candidates: Candidate[], voters: number, quota: number, seed: number): (PastBout & { voter: number })[] {
  const random = createRandom(seed);
  const played: (PastBout & { voter: number })[] = [];
  for (let turn = 0; turn < voters * quota; turn++) {
    const voter = turn % voters;
    const past = played.map((bout) => ({ ...bout, byThisVoter: bout.voter === voter }));
    const chosen = chooseBout(candidates, past, random);
    if (!chosen) continue;
    const { left, right, promptId } = chosen;
    played.push({
      voter,
      promptId,
      leftEntryId: left.entryId,
      rightEntryId: right.entryId,
      leftEntrantId: left.entrantId,
      rightEntrantId: right.entrantId,
      byThisVoter: false,
    });
  }
  return played;
}

describe("chooseBout", () => {
  it("never shows a voter the same two entries twice, and ends when all have been shown", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3 }),
        fc.integer({ min: 2, max: 4 }),
        fc.nat(),
        (prompts, entrants, seed) => {
          const played = play(grid(prompts, entrants), 1, 40, seed);
          const pairs = played.map(({ leftEntryId, rightEntryId }) => [leftEntryId, rightEntryId].sort().join(" "));
          expect(new Set(pairs).size).toBe(pairs.length);
          expect(pairs).toHaveLength((prompts * entrants * (entrants - 1)) / 2);
          for (const { leftEntryId, rightEntryId } of played)
            expect(leftEntryId.slice(0, 2)).toBe(rightEntryId.slice(0, 2));
        },
      ),
      { numRuns: 40 },
    );
  });

  it("covers prompts and pairs evenly and balances the sides", () => {
    const played = play(grid(4, 4), 6, 12, 3);
    const count = (keys: string[]) => [...new Set(keys)].map((key) => keys.filter((other) => other === key).length);
    expect(Math.max(...count(played.map(({ promptId }) => promptId)))).toBe(18);
    const pairs = count(
      played.map(({ leftEntrantId, rightEntrantId }) => [leftEntrantId, rightEntrantId].sort().join(" ")),
    );
    expect(Math.max(...pairs) - Math.min(...pairs)).toBeLessThanOrEqual(2);
    for (let voter = 0; voter < 6; voter++) {
      for (const entrant of ["e0", "e1", "e2", "e3"]) {
        const own = played.filter((bout) => bout.voter === voter);
        const lefts = own.filter(({ leftEntrantId }) => leftEntrantId === entrant).length;
        const rights = own.filter(({ rightEntrantId }) => rightEntrantId === entrant).length;
        expect(Math.abs(lefts - rights)).toBeLessThanOrEqual(2);
      }
    }
  });

  it("has nothing to choose from one entrant", () => {
    expect(chooseBout(grid(3, 1), [], createRandom(1))).toBeNull();
  });
});
