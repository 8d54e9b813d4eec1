import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { drawOutcome, POINTS_PER_LOGIT } from "../ratings/index.js";
import { finish } from "../steps.js";
import { type ContestBallot, describeForms, describeTakes, placeNewcomer, ratePages } from "./index.js";

const CUTS = [-1.6, -0.4, 0.4, 1.6];
const PROMPTS = 8;
const VOTERS = 12;

const random = (seed: number) => createRandom(seed);
/** A number near 0, of standard deviation 1 (the sum of twelve uniform ones). */
const normal = (next: () => number) => Array.from({ length: 12 }, next).reduce((sum, one) => sum + one, -6);

const ballot = (more: Partial<ContestBallot>): ContestBallot => ({
  ...{ voterId: "v0", promptId: "p0", leftEntryId: "a", rightEntryId: "b", leftVersionId: "x", rightVersionId: "x" },
  ...{ leftForm: "first shot", rightForm: "mended", lean: 0, isRepeat: false },
  ...{ leftAt: "2026-09-01T00:00:00.000Z", rightAt: "2026-09-01T01:00:00.000Z" },
  ...more,
});

/** Ballots of every voter on every prompt, in which the mended page is so many logits better. */
function voteOnMends(logits: number, seed: number): ContestBallot[] {
  const next = random(seed);
  return Array.from({ length: PROMPTS * VOTERS * 2 }, (_, index) => {
    const isMendedLeft = next() < 0.5;
    const lean = drawOutcome(next, 5, isMendedLeft ? logits : -logits, CUTS) - 3;
    const version = index % 2 === 0 ? "x" : "y";
    return ballot({
      ...{ voterId: `v${index % VOTERS}`, promptId: `p${index % PROMPTS}`, lean },
      ...{ leftVersionId: version, rightVersionId: version },
      ...(isMendedLeft ? { leftForm: "mended", rightForm: "first shot" } : {}),
    });
  });
}

describe("an entrant's ballots against itself", () => {
  it("come to what the later form is worth, in all and by entrant, within the interval", () => {
    const { all, entrants } = describeForms("rounds", voteOnMends(0.8, 1));
    expect(Math.abs(all.points! - 0.8 * POINTS_PER_LOGIT)).toBeLessThan(all.halfWidth!);
    expect(all.points! - all.halfWidth!).toBeGreaterThan(0);
    expect(all.better + all.even + all.worse).toBe(all.ballots);
    expect(entrants.map(({ versionId, ballots }) => [versionId, ballots])).toEqual([
      ["x", all.ballots / 2],
      ["y", all.ballots / 2],
    ]);
  });

  it("say the same whichever side a form stood on", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1000 }),
        fc.array(fc.boolean(), { minLength: 200, maxLength: 200 }),
        (seed, isTurned) => {
          const ballots = voteOnMends(0.4, seed);
          const turned = ballots.map((one, index) =>
            isTurned[index % isTurned.length]
              ? { ...one, leftForm: one.rightForm, rightForm: one.leftForm, lean: -one.lean }
              : one,
          );
          const tally = ({ better, even, worse }: { better: number; even: number; worse: number }) => [
            better,
            even,
            worse,
          ];
          expect(tally(describeForms("rounds", turned).all)).toEqual(tally(describeForms("rounds", ballots).all));
        },
      ),
      { numRuns: 20 },
    );
  });

  it("tell turns by their numbers, and variants each by itself", () => {
    const turns = describeForms("turns", [ballot({ leftForm: "turn 10", rightForm: "turn 9", lean: -1 })]);
    expect(turns).toMatchObject({ all: { better: 1 }, prompts: [{ form: "turn 10" }] });
    const hints = describeForms("hints", [
      ballot({ leftForm: "variant short", rightForm: "as it stands", lean: 2 }),
      ballot({ leftForm: "as it stands", rightForm: "variant long", lean: 2 }),
    ]);
    expect(hints.prompts).toMatchObject([
      { form: "variant short", worse: 1 },
      { form: "variant long", better: 1 },
    ]);
  });
});

describe("takes of one entrant", () => {
  /** Ballots of three voters on each of some pairs, whose pages differ by so much on each prompt, and voters by one notch. */
  function voteOnPairs(spread: number, seed: number, pairs = 40): ContestBallot[] {
    const next = random(seed);
    return Array.from({ length: pairs }, (_, pair) => pair).flatMap((pair) => {
      const apart = spread * normal(next);
      return [0, 1, 2].map((voter) => {
        const lean = Math.max(-2, Math.min(2, Math.round(apart + 0.7 * normal(next))));
        const isTurned = next() < 0.5;
        const [leftEntryId, rightEntryId] = isTurned ? [`b${pair}`, `a${pair}`] : [`a${pair}`, `b${pair}`];
        return ballot({
          ...{ voterId: `v${voter}`, promptId: `p${pair % PROMPTS}`, leftEntryId, rightEntryId },
          lean: isTurned ? -lean : lean,
        });
      });
    });
  }
  const distanceOf = (ballots: readonly ContestBallot[]) =>
    describeTakes(ballots, { distance: null, moments: [] }).distance;

  it("show which share of what tells entrants apart is luck of the draw", () => {
    const takes = voteOnPairs(0.5, 3, 400);
    // Two entrants differ by luck and by twice as much variance more: a third is luck.
    const spreads = 3 * 0.5 ** 2;
    const moments = Array.from({ length: PROMPTS }, (_, prompt) => ({
      ...{ promptId: `p${prompt}`, products: spreads * 600, pairs: 600 },
    }));
    const { share } = describeTakes(takes, { distance: 1, moments });
    expect(share!.share).toBeGreaterThan(0.2);
    expect(share!.share).toBeLessThan(0.45);
    expect(share!.low).toBeLessThanOrEqual(share!.share);
    expect(share!.high).toBeGreaterThanOrEqual(share!.share);
  });

  it("say nothing of the share where too few voters saw the same takes", () => {
    const moments = [{ promptId: "p0", products: 100, pairs: 100 }];
    expect(describeTakes(voteOnPairs(1, 4, 3), { distance: null, moments }).share).toBeNull();
    const alone = voteOnPairs(1, 5, 60).filter(({ voterId }) => voterId === "v0");
    expect(describeTakes(alone, { distance: null, moments }).share).toBeNull();
  });

  it("tell of drift where they were asked for weeks apart, and of none where they were not", () => {
    const asked = (leftAt: string, rightAt: string) =>
      voteOnMends(0.8, 9).map((one) => {
        // The later take is the better one, whichever side it stands on.
        const isLaterRight = one.rightForm === "mended";
        return { ...one, leftAt: isLaterRight ? leftAt : rightAt, rightAt: isLaterRight ? rightAt : leftAt };
      });
    const none = { distance: null, moments: [] };
    const [september, november] = ["2026-09-01T00:00:00.000Z", "2026-11-01T00:00:00.000Z"];
    const [drift] = describeTakes(asked(september, november), none).drift;
    expect(drift).toMatchObject({ versionId: "x", days: 61 });
    expect(drift!.points! - drift!.halfWidth!).toBeGreaterThan(0);
    expect(describeTakes(asked(september, "2026-09-10T00:00:00.000Z"), none).drift).toEqual([]);
  });

  it("are farther from each other where pages differ more", () => {
    expect(distanceOf(voteOnPairs(2, 6))).toBeGreaterThan(distanceOf(voteOnPairs(0.2, 6)));
  });
});

describe("mended pages", () => {
  it("are rated among themselves", () => {
    const ballots = Array.from({ length: 60 }, (_, index) =>
      ballot({
        ...{ voterId: `v${index % 5}`, promptId: `p${index % 4}`, leftForm: "", rightForm: "" },
        ...{ leftVersionId: index % 2 ? "x" : "y", rightVersionId: index % 2 ? "y" : "x", lean: index % 2 ? -1 : 1 },
      }),
    );
    const { rows, ballots: counted } = ratePages("mended-2", ballots);
    expect([counted, rows.map(({ versionId }) => versionId)]).toEqual([60, ["x", "y"]]);
    expect(rows[0]!.rating).toBeGreaterThan(rows[1]!.rating);
  });
});

describe("a newcomer", () => {
  const THETAS = [1.5, 0.8, 0, -0.8, -1.5];
  /** Ballots among four known ones, and of the newcomer, who is number 4, with them. */
  function voteOn(own: number, seed: number) {
    const next = random(seed);
    const meet = (a: number, b: number, index: number) => ({
      ...{ voter: index % 20, prompt: index % 10, left: a, right: b },
      outcome: drawOutcome(next, 5, THETAS[a]! - THETAS[b]!, CUTS),
    });
    const among = Array.from({ length: 600 }, (_, index) => meet(index % 4, (index + 1 + (index % 3)) % 4, index));
    const rows = [
      ...among.filter(({ left, right }) => left !== right),
      ...Array.from({ length: own }, (_, index) => meet(4, index % 4, index)),
    ];
    const column = (name: "voter" | "prompt" | "left" | "right" | "outcome") => rows.map((row) => row[name]);
    return {
      ...{ voter: column("voter"), prompt: column("prompt"), left: column("left"), right: column("right") },
      outcome: column("outcome"),
    };
  }
  const place = (own: number) =>
    finish(placeNewcomer({ versionIds: ["a", "b", "c", "d", "new"], newcomer: 4, ballots: voteOn(own, 7) }));

  it("is placed more and more surely, and said after how many ballots", () => {
    const { steps, of, placedAfter } = place(200);
    expect([of, steps[0]!.ballots, steps.at(-1)!.ballots]).toEqual([5, 5, 200]);
    const width = ({ rankRange }: (typeof steps)[number]) => rankRange![1] - rankRange![0];
    expect(width(steps.at(-1)!)).toBeLessThanOrEqual(width(steps[0]!));
    expect(steps.at(-1)!.rankRange![1]).toBe(5);
    expect(placedAfter).not.toBeNull();
    expect(placedAfter!).toBeLessThan(200);
    for (const step of steps.filter(({ ballots }) => ballots >= placedAfter!)) expect(width(step)).toBeLessThan(3);
  });

  it("is not placed by a few, and has no place without any", () => {
    expect(place(3)).toMatchObject({ placedAfter: null });
    expect(place(0)).toMatchObject({ steps: [], placedAfter: null });
  });
});
