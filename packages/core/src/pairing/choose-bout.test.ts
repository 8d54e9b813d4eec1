import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { fitRatings } from "../ratings/index.js";
import { BoutTally } from "./bout-tally.js";
import { chooseBout, type OwnBout, PAIRING_RULES, type PairingRules, type Situation } from "./choose-bout.js";
import { type Candidate, Exhibition } from "./exhibition.js";
import { Teacher } from "./teaching.js";

const grid = (prompts: number, entrants: number): Candidate[] =>
  Array.from({ length: prompts * entrants }, (_, i) => {
    const [promptId, competitorId] = [`p${Math.floor(i / entrants)}`, `e${i % entrants}`];
    return { entryId: `${promptId}${competitorId}`, promptId, competitorId };
  });
const NO_REPEATS: PairingRules = { ...PAIRING_RULES, repeatShare: 0 };

/** Lets voters take turns until nothing is left for any of them, or each has had `quota`. */
function play(
  candidates: Candidate[],
  { voters, quota, seed, rules = NO_REPEATS }: { voters: number; quota: number; seed: number; rules?: PairingRules },
): OwnBout[][] {
  const random = createRandom(seed);
  const exhibition = new Exhibition(candidates);
  const tally = new BoutTally();
  const own = Array.from({ length: voters }, (): OwnBout[] => []);
  for (let turn = 0; turn < voters * quota; turn++) {
    const bouts = own[turn % voters]!;
    const chosen = chooseBout({ exhibition, tally, own: bouts, knowledge: null, rules }, random);
    if (!chosen) continue;
    bouts.push(chosen);
    tally.add(chosen.promptId, chosen.left.competitorId, chosen.right.competitorId);
  }
  return own;
}
const pairOf = ({ left, right }: OwnBout) => [left.competitorId, right.competitorId].sort().join(" ");
const count = (keys: string[]) => [...new Set(keys)].map((key) => keys.filter((other) => other === key).length);

describe("chooseBout", () => {
  it("never shows a voter two entrants twice on a prompt, and ends when all have been shown", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3 }),
        fc.integer({ min: 2, max: 4 }),
        fc.nat(),
        (prompts, entrants, seed) => {
          const [played] = play(grid(prompts, entrants), { voters: 1, quota: 40, seed });
          const pairs = played!.map((bout) => `${bout.promptId} ${pairOf(bout)}`);
          expect(new Set(pairs).size).toBe(pairs.length);
          expect(pairs).toHaveLength((prompts * entrants * (entrants - 1)) / 2);
          for (const { left, right, promptId } of played!)
            expect([left.promptId, right.promptId]).toEqual([promptId, promptId]);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("never pairs entries that look alike, and picks another take where there is one", () => {
    const alike = grid(2, 3).map((candidate) => ({
      ...candidate,
      likeness: candidate.competitorId === "e2" ? null : `same on ${candidate.promptId}`,
    }));
    const [without] = play(alike, { voters: 1, quota: 20, seed: 1 });
    expect([...new Set(without!.map(pairOf))].toSorted()).toEqual(["e0 e2", "e1 e2"]);
    const second = { entryId: "second take", promptId: "p0", competitorId: "e1", likeness: "another" };
    const [played] = play([...alike, second], { voters: 1, quota: 20, seed: 1 });
    const met = played!.filter((bout) => pairOf(bout) === "e0 e1");
    expect(met.map(({ promptId }) => promptId)).toEqual(["p0"]);
    expect([met[0]!.left.entryId, met[0]!.right.entryId]).toContain("second take");
  });

  it("covers prompts and pairs evenly and balances the sides", () => {
    const own = play(grid(4, 4), { voters: 6, quota: 12, seed: 3 });
    const played = own.flat();
    expect(Math.max(...count(played.map(({ promptId }) => promptId)))).toBe(18);
    const pairs = count(played.map(pairOf));
    expect(Math.max(...pairs) - Math.min(...pairs)).toBeLessThanOrEqual(2);
    for (const bouts of own) {
      for (const entrant of ["e0", "e1", "e2", "e3"]) {
        const lefts = bouts.filter(({ left }) => left.competitorId === entrant).length;
        const rights = bouts.filter(({ right }) => right.competitorId === entrant).length;
        expect(Math.abs(lefts - rights)).toBeLessThanOrEqual(3);
      }
    }
    const lead = (a: string, b: string) =>
      played.filter(({ left, right }) => left.competitorId === a && right.competitorId === b).length;
    expect(Math.abs(lead("e0", "e1") - lead("e1", "e0"))).toBeLessThanOrEqual(3);
  });

  it("repeats a share with the sides exchanged, each once and not at once", () => {
    const [played] = play(grid(8, 5), { voters: 1, quota: 60, seed: 5, rules: { ...PAIRING_RULES, repeatShare: 0.3 } });
    const repeats = played!.filter(({ isRepeat }) => isRepeat);
    expect(repeats.length).toBeGreaterThan(8);
    for (const repeat of repeats) {
      const at = played!.indexOf(repeat);
      const first = played!.findIndex(
        ({ left, right, promptId }) =>
          promptId === repeat.promptId &&
          left.entryId === repeat.right.entryId &&
          right.entryId === repeat.left.entryId,
      );
      expect(first).toBeGreaterThanOrEqual(0);
      expect(at - first).toBeGreaterThanOrEqual(5);
    }
    expect(new Set(repeats.map((bout) => `${bout.promptId} ${pairOf(bout)}`)).size).toBe(repeats.length);
  });

  it("asks first for pairs that nobody compared, then for those that teach most", () => {
    // Two that are close, and two far off, all compared alike.
    const rows = [
      [0, 1, 2, 20],
      [0, 1, 4, 19],
      [1, 2, 1, 38],
      [1, 2, 5, 1],
      [0, 2, 1, 38],
      [0, 2, 5, 1],
    ];
    const column = (at: number) => rows.map((row) => row[at]!);
    const fit = fitRatings(
      3,
      { left: column(0), right: column(1), outcome: column(2), n: column(3) },
      { K: 5, ridge: 0.1, side: false, ridgeSide: 0 },
    );
    const knowledge = {
      teacher: new Teacher(fit),
      numberOf: new Map([
        ["e0", 0],
        ["e1", 1],
        ["e2", 2],
      ]),
    };
    const tally = new BoutTally();
    const situation: Situation = {
      exhibition: new Exhibition(grid(6, 3)),
      tally,
      own: [],
      knowledge,
      rules: { repeatShare: 0, uniformShare: 0, coverPairs: 1, newEntrantShare: 0 },
    };
    tally.add("p0", "e0", "e1", 3);
    tally.add("p0", "e0", "e2", 3);
    expect(chooseBout(situation, createRandom(1))!.reason).toBe("these two had met 0 times");
    tally.add("p0", "e1", "e2", 3);
    const chosen = chooseBout(situation, createRandom(1))!;
    expect(pairOf(chosen)).toBe("e0 e1");
    expect(chosen.reason).toMatch(/^the pair that teaches most \(.+\), compared 3 times$/);
  });

  it("gives new entrants a share of their own", () => {
    const tally = new BoutTally();
    for (const [a, b] of [
      ["e0", "e1"],
      ["e1", "e2"],
      ["e0", "e2"],
    ] as const)
      tally.add("p0", a, b, 20);
    for (const other of ["e0", "e1", "e2"]) tally.add("p0", other, "e3", 1);
    const situation = { exhibition: new Exhibition(grid(4, 4)), tally, own: [], knowledge: null };
    const rules = { repeatShare: 0, uniformShare: 0, coverPairs: 1, newEntrantShare: 1 };
    for (let seed = 0; seed < 10; seed++)
      expect(pairOf(chooseBout({ ...situation, rules }, createRandom(seed))!)).toContain("e3");
  });

  it("chooses the same by the same seed", () => {
    const choose = () => play(grid(5, 5), { voters: 3, quota: 10, seed: 9, rules: PAIRING_RULES });
    expect(choose()).toEqual(choose());
  });

  it("has nothing to choose from one entrant, or from entrants that share no prompt", () => {
    const choose = (candidates: Candidate[]) =>
      chooseBout(
        {
          exhibition: new Exhibition(candidates),
          tally: new BoutTally(),
          own: [],
          knowledge: null,
          rules: PAIRING_RULES,
        },
        createRandom(1),
      );
    expect(choose(grid(3, 1))).toBeNull();
    expect(
      choose([
        { entryId: "a", promptId: "p0", competitorId: "e0" },
        { entryId: "b", promptId: "p1", competitorId: "e1" },
      ]),
    ).toBeNull();
  });

  it("shows a newcomer in every bout, first against the middle of those it may meet, and all of them in the end", () => {
    const candidates = grid(1, 6);
    const counts = {
      left: [0, 1, 2, 3, 4],
      right: [1, 2, 3, 4, 0],
      outcome: [1, 1, 1, 1, 5],
      n: [8, 8, 8, 8, 8],
    };
    // e0 to e4 are known, the first the best; e5 is new.
    const knowledge = {
      teacher: new Teacher(fitRatings(6, counts, { K: 5, ridge: 0.1, side: true, ridgeSide: 0.1 })),
      numberOf: new Map(candidates.map(({ competitorId }, number) => [competitorId, number])),
    };
    const situation = { exhibition: new Exhibition(candidates), knowledge, rules: NO_REPEATS, newcomer: "e5" };
    const own: OwnBout[] = [];
    for (;;) {
      const chosen = chooseBout({ ...situation, tally: new BoutTally(), own }, createRandom(own.length));
      if (chosen === null) break;
      expect(chosen.reason).toContain("places the newcomer");
      own.push(chosen);
    }
    expect(own.map(pairOf)[0]).toBe("e2 e5");
    expect(own.map(pairOf).sort()).toEqual(["e0 e5", "e1 e5", "e2 e5", "e3 e5", "e4 e5"]);
  });

  it("pairs only what may meet, and only entries of one origin", () => {
    const candidates = grid(1, 4).map((candidate, index) => ({
      ...candidate,
      origin: index < 2 ? "take 1" : "take 2",
    }));
    const exhibition = new Exhibition(candidates, (a, b) => !(a === "e2" || b === "e2"));
    const situation = { exhibition, tally: new BoutTally(), knowledge: null, rules: NO_REPEATS };
    const first = chooseBout({ ...situation, own: [] }, createRandom(1))!;
    expect(pairOf(first)).toBe("e0 e1");
    expect(chooseBout({ ...situation, own: [first] }, createRandom(1))).toBeNull();
  });
});
