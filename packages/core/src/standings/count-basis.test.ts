import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { EVERYTHING, type StandingsBasis, type WhatCounts } from "../contract/index.js";
import { finish } from "../steps.js";
import { countBasis, findHeadToHead, MARKS, prepareBasis } from "./index.js";

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const DAY = 86_400;
const works = MARKS.leftWorks + MARKS.rightWorks;

interface Cast {
  prompt?: number;
  voter?: number;
  left?: number;
  right?: number;
  lean?: number;
  day?: number;
  marks?: number;
}

/** Two prompts, the second a variant; two panels of two voters each; three entrants, the first also as it was before. */
function makeBasis(ballots: readonly Cast[]): StandingsBasis {
  const cast = ballots.map((ballot) => ({
    ...{ prompt: 0, voter: 0, left: 0, right: 1, lean: -1, day: 0, marks: works },
    ...ballot,
  }));
  const entrant = (n: number) => ({
    ...{ id: id(n), key: `e${n}`, name: `E ${n}`, maker: "", glyph: 1, sample: false },
  });
  const competitor = (n: number, isPresent = true) => ({
    entrant: entrant(n),
    version: { id: id(isPresent ? 100 + n : 200 + n), number: isPresent ? 2 : 1, isPresent, until: null },
  });
  const prompt = { kind: "game" as const, tags: ["water"], isVariant: false };
  const panel = { edition: 1, brokenRule: "pair" as const, undeliveredRule: "lose" as const };
  return {
    edition: { id: id(1) } as StandingsBasis["edition"],
    prompts: [
      { ...prompt, id: id(11), key: "locks", title: "Locks" },
      { ...prompt, id: id(12), key: "table", title: "Table", kind: "app", tags: [], isVariant: true },
    ],
    competitors: [competitor(0), competitor(1), competitor(2), competitor(0, false)],
    panels: [
      { ...panel, id: id(21), title: "Friends" },
      { ...panel, id: id(22), title: "Others" },
    ],
    voters: [0, 1, 2, 3].map((n) => ({ id: id(30 + n), name: "", panel: n >> 1, sample: n === 0 })),
    cells: {
      ...{ prompt: [0, 1, 0], competitor: [0, 0, 1], pages: [1, 1, 0], none: [0, 0, 1], owed: [0, 0, 0] },
      ...{ clean: [1, 0, 0], tried: [1, 1, 1], costed: [1, 1, 0], costUsd: [0.1, 0.3, 0], totalsMs: [[10], [30], []] },
      ...{ tokens: [100, 300, 0], tokened: [1, 1, 0], timedTokens: [100, 300, 0], timedMs: [2000, 2000, 0] },
    },
    ballots: {
      prompt: cast.map((one) => one.prompt),
      voter: cast.map((one) => one.voter),
      left: cast.map((one) => one.left),
      right: cast.map((one) => one.right),
      lean: cast.map((one) => one.lean),
      at: cast.map((one) => one.day * DAY + 3600),
      marks: cast.map((one) => one.marks),
    },
    ...{ pages: "first", otherPages: [], formerVersions: 1, setAside: 0, readAt: "2026-01-01T00:00:00.000Z" },
  };
}
const count = (ballots: readonly Cast[], counts: Partial<WhatCounts> = {}) =>
  countBasis(prepareBasis(makeBasis(ballots)), { ...EVERYTHING, ...counts });
const countsOf = (ballots: readonly Cast[], counts: Partial<WhatCounts>) => count(ballots, counts).standings.ballots;

describe("what counts", () => {
  it("is chosen by prompt, kind, tag, variant, panel, voter and day", () => {
    const ballots: Cast[] = [{}, { prompt: 1, voter: 1, day: 1 }, { prompt: 1, voter: 2, day: 2 }];
    expect(countsOf(ballots, {})).toBe(3);
    expect(countsOf(ballots, { kind: ["app"] })).toBe(2);
    expect(countsOf(ballots, { tag: ["water"] })).toBe(1);
    expect(countsOf(ballots, { prompt: ["table", "none"] })).toBe(2);
    expect(countsOf(ballots, { variants: "out" })).toBe(1);
    expect(countsOf(ballots, { panel: [id(22)] })).toBe(1);
    expect(countsOf(ballots, { without: [id(31), id(32)] })).toBe(1);
    expect(countsOf(ballots, { from: "1970-01-02" })).toBe(2);
    expect(countsOf(ballots, { to: "1970-01-02" })).toBe(2);
    expect(countsOf(ballots, { from: "1970-01-02", to: "1970-01-02" })).toBe(1);
    expect(countsOf(ballots, { kind: ["app"], panel: [id(21)] })).toBe(1);
  });

  it("takes entrants as they are set up now, or what they were, too", () => {
    const ballots: Cast[] = [{}, { left: 3 }];
    const [now, all] = [count(ballots).standings, count(ballots, { versions: "all" }).standings];
    expect([now.ballots, now.rows.length]).toEqual([1, 3]);
    expect([all.ballots, all.rows.length]).toEqual([2, 4]);
  });

  it("lets a page that shows nothing lose by far or stay out, and two of them stay out", () => {
    const blankLeft = works + MARKS.leftShowsNothing;
    const ballots: Cast[] = [
      { lean: -2, marks: blankLeft },
      { marks: blankLeft + MARKS.rightShowsNothing },
      { right: 2 },
    ];
    const share = (counts: Partial<WhatCounts>) => {
      const { standings } = count(ballots, counts);
      const place = (key: string) => standings.rows.findIndex(({ entrant }) => entrant.key === key);
      return findHeadToHead(standings, place("e0"), place("e1"));
    };
    expect(share({})).toMatchObject({ ballots: 2, share: 1 });
    expect(share({ broken: "lose" })).toMatchObject({ ballots: 1, share: 0 });
    expect(countsOf(ballots, { broken: "leave_out" })).toBe(1);
  });

  it("leaves out what was not delivered, whatever the rule for what shows nothing", () => {
    const ballots: Cast[] = [{ marks: MARKS.rightWorks + MARKS.leftHasNoPage + MARKS.isUnseen, lean: 2 }, {}];
    expect(countsOf(ballots, { undelivered: "leave_out" })).toBe(1);
    expect(countsOf(ballots, { broken: "leave_out" })).toBe(2);
    expect(count(ballots).standings.sources).toMatchObject([{ ballots: 2, unseen: 1 }]);
  });

  it("tells figures of the prompts that count alone", () => {
    const rowOf = (counts: Partial<WhatCounts>) =>
      count([{}], counts).standings.rows.find(({ entrant }) => entrant.key === "e0")!;
    expect(rowOf({})).toMatchObject({ delivery: { pages: 2, none: 0 }, cleanShare: 0.5, costPerEntryUsd: 0.2 });
    expect(rowOf({ kind: ["game"] })).toMatchObject({ delivery: { pages: 1 }, cleanShare: 1, medianTotalMs: 10 });
    expect(rowOf({})).toMatchObject({ tokensPerEntry: 200, tokensPerSecond: 100 });
    expect(rowOf({ kind: ["game"] })).toMatchObject({ tokensPerEntry: 100, tokensPerSecond: 50 });
  });

  it("never counts a ballot twice, and together with its opposite counts all", () => {
    const cast = fc.record({
      prompt: fc.nat(1),
      voter: fc.nat(3),
      lean: fc.integer({ min: -2, max: 2 }),
      day: fc.nat(3),
    });
    fc.assert(
      fc.property(fc.array(cast, { maxLength: 40 }), fc.constantFrom("kind", "panel", "days"), (ballots, by) => {
        const halves: Partial<WhatCounts>[] = {
          kind: [{ kind: ["game" as const] }, { kind: ["app" as const] }],
          panel: [{ panel: [id(21)] }, { panel: [id(22)] }],
          days: [{ to: "1970-01-02" }, { from: "1970-01-03" }],
        }[by];
        expect(halves.reduce((sum, half) => sum + countsOf(ballots, half), 0)).toBe(ballots.length);
      }),
    );
  });

  it("rates nobody on any prompt, kind or tag without ballots", () => {
    const { standings, ratePrompts } = countBasis(prepareBasis(makeBasis([])), EVERYTHING);
    expect(standings.ballots).toBe(0);
    const steps = ratePrompts();
    let step = steps.next();
    while (step.done !== true) step = steps.next();
    expect(step.value.categories.length).toBeGreaterThan(1);
    for (const { ratings, ballots } of [...step.value.prompts, ...step.value.categories])
      expect({ ratings, ballots }).toEqual({ ratings: [], ballots: 0 });
  });

  it("tells each entrant from its predecessor, and each version from the one before, by a difference of its own", () => {
    const many = Array.from({ length: 60 }, (_, n) => ({
      ...{
        prompt: n % 2,
        voter: n % 4,
        left: n % 3 === 0 ? 3 : 0,
        right: n % 5 === 0 ? 2 : 1,
        lean: n % 4 === 0 ? 1 : -2,
      },
    }));
    const basis = makeBasis(many);
    // The second entrant follows the first, and the third one that is not here.
    basis.competitors[1]!.entrant.predecessor = "e0";
    basis.competitors[2]!.entrant.predecessor = "somebody";
    const succession = (counts: Partial<WhatCounts>) =>
      countBasis(prepareBasis(basis), { ...EVERYTHING, ...counts }).standings;
    const present = succession({});
    expect(present.succession.map(({ newerId, olderId }) => [newerId, olderId])).toEqual([[id(101), id(100)]]);
    const ratingOf = (of: typeof present, versionId: string) =>
      of.rows.find(({ version }) => version.id === versionId)!;
    const { points, halfWidth } = present.succession[0]!;
    expect(points).toBeCloseTo(ratingOf(present, id(101)).rating! - ratingOf(present, id(100)).rating!, 9);
    // Two of three entrants: what they share does not widen their difference as it does each by itself.
    expect(halfWidth).toBeGreaterThan(0);
    const alone = Math.hypot(ratingOf(present, id(101)).halfWidth!, ratingOf(present, id(100)).halfWidth!);
    expect(halfWidth).not.toBeCloseTo(alone, 3);
    const all = succession({ versions: "all" });
    const pairs = all.succession.map(({ newerId, olderId }) => [newerId, olderId]);
    expect(pairs).toEqual([
      [id(100), id(200)],
      [id(101), id(100)],
    ]);
    expect(countBasis(prepareBasis(makeBasis([])), EVERYTHING).standings.succession).toEqual([]);
  });

  it("rates each prompt and kind of those that count, and no other", () => {
    const ballots: Cast[] = Array.from({ length: 12 }, (_, n) => ({ prompt: n % 2, voter: n % 4, lean: -2 }));
    const all = finish(count(ballots).ratePrompts());
    expect(all.prompts.map(({ promptId, ballots: n }) => [promptId, n])).toEqual([
      [id(11), 6],
      [id(12), 6],
    ]);
    expect(all.categories.map(({ name }) => name)).toEqual(["game", "app", "water"]);
    const one = finish(count(ballots, { kind: ["app"] }).ratePrompts());
    expect(one.prompts.map(({ promptId, ballots: n }) => [promptId, n])).toEqual([[id(12), 6]]);
    expect(one.categories).toEqual([]);
  });
});

describe("what two rows came to against each other", () => {
  it("stands once for each pair, and is told from either side", () => {
    const pairs = [
      [10, 0.25, 0.3],
      [11, 1, null],
      [12, null, 0.5],
      [13, 0.5, 0.6],
      [14, 0, 0.1],
      [15, 0.75, 0.7],
    ] as [number, number | null, number | null][];
    const standings = { rows: [0, 1, 2, 3], headToHead: pairs } as unknown as Parameters<typeof findHeadToHead>[0];
    let next = 0;
    for (let i = 0; i < 4; i++) {
      expect(findHeadToHead(standings, i, i)).toBeNull();
      for (let j = i + 1; j < 4; j++) {
        const [ballots, share, expected] = pairs[next++]!;
        expect(findHeadToHead(standings, i, j)).toEqual({ ballots, share, expected });
        const turned = (value: number | null) => (value === null ? null : 1 - value);
        expect(findHeadToHead(standings, j, i)).toEqual({ ballots, share: turned(share), expected: turned(expected) });
      }
    }
  });
});
