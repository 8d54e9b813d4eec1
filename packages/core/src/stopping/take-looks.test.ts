import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { StoppingPlan } from "../contract/index.js";
import { createRandom } from "../random.js";
import { drawOutcome } from "../ratings/index.js";
import { finish } from "../steps.js";
import { lookInSteps, lookingAlpha, planLooks } from "./index.js";

const CUTS = [-1.6, -0.4, 0.4, 1.6];
const plan = (more: Partial<StoppingPlan>): StoppingPlan => ({
  ...{ id: "00000000-0000-4000-8000-000000000001", goal: { kind: "first", count: 1 }, mostBallots: 600, looks: 3 },
  ...{ ballotsBefore: 0, setAt: "2026-11-01T00:00:00.000Z", givenUpAt: null },
  ...more,
});

/** Ballots on entrants of such strengths. */
function vote(thetas: readonly number[], count: number, seed: number) {
  const random = createRandom(seed);
  const rows = Array.from({ length: count }, (_, index) => {
    const left = Math.floor(random() * thetas.length);
    const right = (left + 1 + Math.floor(random() * (thetas.length - 1))) % thetas.length;
    return {
      voter: index % 30,
      prompt: index % 12,
      left,
      right,
      outcome: drawOutcome(random, 5, thetas[left]! - thetas[right]!, CUTS),
    };
  });
  const column = (name: "voter" | "prompt" | "left" | "right" | "outcome") => Int32Array.from(rows, (row) => row[name]);
  return {
    voter: column("voter"),
    prompt: column("prompt"),
    left: column("left"),
    right: column("right"),
    outcome: column("outcome"),
  };
}

describe("a stopping plan", () => {
  it("takes no more looks than it plans, each at more ballots than the one before, and the last at its most ballots", () => {
    fc.assert(
      fc.property(
        fc.nat(5000),
        fc.integer({ min: 1, max: 5000 }),
        fc.integer({ min: 1, max: 10 }),
        (before, more, looks) => {
          const at = planLooks({ ballotsBefore: before, mostBallots: before + more, looks });
          expect(at.length).toBeLessThanOrEqual(looks);
          expect(at.at(-1)).toBe(before + more);
          expect(at).toEqual([...at].sort((a, b) => a - b));
          expect(at.slice(1).every((ballots) => ballots > before)).toBe(true);
        },
      ),
    );
  });

  it("asks more of each look the more looks there are", () => {
    expect(lookingAlpha({ looks: 1 })).toBe(0.05);
    expect(lookingAlpha({ looks: 5 })).toBeCloseTo(0.01, 12);
    const ballots = vote([1, 0, -1], 600, 3);
    const within = { kind: "within", points: 500 } as const;
    const [once] = finish(lookInSteps(plan({ goal: within, looks: 1 }), 3, ballots));
    const often = finish(lookInSteps(plan({ goal: within, looks: 10 }), 3, ballots)).at(-1)!;
    expect(often.reached!).toBeGreaterThan(once!.reached!);
  });

  it("is met by entrants that are far apart, and not by those that are alike", () => {
    const apart = finish(lookInSteps(plan({ goal: { kind: "first", count: 2 } }), 3, vote([1.5, 0, -1.5], 600, 1)));
    expect(apart.at(-1)).toMatchObject({ ballots: 600, isMet: true, reached: 2 });
    const alike = finish(lookInSteps(plan({ goal: { kind: "first", count: 2 } }), 3, vote([0, 0, 0], 600, 2)));
    expect(alike.every(({ isMet }) => isMet === false)).toBe(true);
  });

  it("takes no look for which there are too few ballots, and says the same of a look later on", () => {
    const ballots = vote([1, 0, -1], 600, 5);
    const part = { ...ballots, outcome: ballots.outcome.slice(0, 450) };
    const [all, now] = [ballots, part].map((some) => finish(lookInSteps(plan({}), 3, some)));
    expect(now!.map(({ isMet }) => isMet === null)).toEqual([false, false, true]);
    expect(now!.slice(0, 2)).toEqual(all!.slice(0, 2));
  });

  it("tells equal entrants apart at some look in no more than one plan of ten, however often it looks", () => {
    const wrong = Array.from({ length: 60 }, (_, seed) =>
      finish(lookInSteps(plan({ looks: 5, mostBallots: 300 }), 2, vote([0, 0], 300, 100 + seed))).some(
        ({ isMet }) => isMet,
      ),
    ).filter(Boolean).length;
    expect(wrong).toBeLessThanOrEqual(6);
  });
});
