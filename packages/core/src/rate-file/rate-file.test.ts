import { describe, expect, it } from "vitest";
import { rateFile } from "./index.js";

const BALLOTS = {
  voter: [0, 0, 1, 1, 2, 2, 0, 1],
  prompt: [0, 1, 0, 1, 0, 1, 2, 2],
  left: [0, 1, 0, 2, 1, 0, 0, 2],
  right: [1, 2, 2, 0, 0, 2, 1, 1],
  outcome: [1, 2, 3, 4, 5, 1, 2, 3],
};
const ENTRANTS = ["Avens", "Bugle", "Campion", "Dock"];
const PRIORS = { ridge: 0.1, side: true, ridgeSide: 0.1 };

interface FitReport {
  theta: (number | null)[];
  rating: (number | null)[];
  cuts: (number | null)[];
  delta?: number;
  logLik: number;
  penalizedLogLik: number;
  se: Record<string, { theta: (number | null)[]; delta: number | null; cuts: (number | null)[] } | null>;
  contrasts: { i: number; j: number; diff: number; se: Record<string, number | null> }[];
  rank: (number | null)[];
  rankIntervals: Record<string, { holm: ([number, number] | null)[] } | null>;
  clusters?: object;
  degenerate?: string[];
}
const fit = (input: object, options: object = {}) =>
  rateFile({ type: "fit", input: { entrants: ENTRANTS, K: 5, ...input }, options }).report as unknown as FitReport;

describe("a file of type fit", () => {
  const plain = fit({ ballots: BALLOTS }, PRIORS);

  it("comes to ratings, their errors by each view, contrasts and ranks", () => {
    expect(plain.rating[0]).toBeCloseTo(1500 + (400 / Math.LN10) * plain.theta[0]!, 9);
    expect(plain.theta[3]).toBeNull();
    expect(Object.keys(plain.se)).toEqual(["naive", "voter", "prompt", "twoway"]);
    expect(plain.contrasts.map(({ i, j }) => [i, j])).toEqual([
      [0, 1],
      [0, 2],
      [1, 2],
    ]);
    expect(plain.rank).toEqual([1, 2, 3, null]);
    expect(plain.rankIntervals["naive"]!.holm[3]).toBeNull();
    expect(plain.clusters).toEqual({ voters: 3, prompts: 3, intersections: 8 });
    expect(plain.degenerate).toEqual(["entrants without ballots"]);
  });

  it("is the same from counts, without errors by voter or prompt", () => {
    const rows = BALLOTS.outcome.map((outcome, b) => [BALLOTS.left[b], BALLOTS.right[b], outcome, 1]);
    const counted = fit({ counts: rows }, PRIORS);
    counted.theta.forEach((theta, m) => {
      if (theta === null) expect(plain.theta[m]).toBeNull();
      else expect(theta).toBeCloseTo(plain.theta[m]!, 12);
    });
    expect(Object.keys(counted.se)).toEqual(["naive"]);
    expect(counted.clusters).toBeUndefined();
  });

  it("stands on its anchor, which moves no contrast and has no error", () => {
    const anchored = fit({ ballots: BALLOTS }, { ...PRIORS, anchor: { entrant: 1, rating: 1000 } });
    expect(anchored.rating[1]).toBe(1000);
    expect(anchored.theta[1]).toBe(0);
    expect(anchored.se["voter"]!.theta[1]).toBe(0);
    expect(anchored.se["voter"]!.theta[0]).toBeCloseTo(plain.contrasts[0]!.se["voter"]!, 12);
    expect(anchored.contrasts).toEqual(plain.contrasts);
    expect(fit({ ballots: BALLOTS }, { ...PRIORS, anchor: { entrant: "Bugle", rating: 1000 } })).toEqual(anchored);
    expect(() => fit({ ballots: BALLOTS }, { ...PRIORS, anchor: { entrant: 3 } })).toThrow("has no rating");
    expect(() => fit({ ballots: BALLOTS }, { ...PRIORS, anchor: { entrant: 9 } })).toThrow("has no rating");
  });

  it("corrects the pairs of every component by themselves", () => {
    const counts = [
      [0, 1, 1, 40],
      [0, 1, 5, 20],
      [2, 3, 1, 40],
      [2, 3, 5, 20],
    ];
    // p = 0.011 for either: significant by itself, and each component has one pair only.
    const { rankIntervals } = fit({ counts }, { ridge: 0.0001 });
    expect(rankIntervals["naive"]!.holm).toEqual([
      [1, 1],
      [2, 2],
      [1, 1],
      [2, 2],
    ]);
  });

  it("has an answer for all ballots even, for one ballot and for none", () => {
    expect(fit({ counts: [[0, 1, 3, 5]] }, { ridge: 0.1 })).toMatchObject({
      theta: [0, 0, null, null],
      cuts: [null, null],
      degenerate: ["all ballots even", "entrants without ballots"],
    });
    expect(fit({ counts: [] })).toMatchObject({
      theta: [null, null, null, null],
      contrasts: [],
      degenerate: ["no ballots"],
    });
    expect(fit({ counts: [[0, 1, 1, 1]] }, { ridge: 0.1 }).theta[0]).toBeGreaterThan(0);
    expect(
      fit({ ballots: { voter: [4], prompt: [2], left: [0], right: [1], outcome: [2] } }, { ridge: 0.1 }).se,
    ).toMatchObject({
      voter: null,
      prompt: null,
      twoway: null,
    });
    expect(fit({ entrants: ["Avens"], counts: [] })).toMatchObject({ theta: [null], rank: [null] });
  });

  it("takes a thousand million ballots, theta and time unchanged", () => {
    const of = (n: number) =>
      fit({
        counts: [
          [0, 1, 1, 3 * n],
          [0, 1, 3, n],
          [0, 1, 5, n],
        ],
      });
    expect(of(1e9).theta[0]).toBeCloseTo(of(1).theta[0]!, 7);
    expect(of(1e9).se["naive"]!.theta[0]! * Math.sqrt(1e9)).toBeCloseTo(of(1).se["naive"]!.theta[0]!, 5);
  });
});

describe("a file of another type", () => {
  it("comes to the numbers of its type", () => {
    const of = (type: string, input: object, options: object = {}) =>
      rateFile({ type, input: { entrants: ENTRANTS, K: 5, ...input }, options }).report;
    expect(of("elo", { sequence: [[0, 1, 1]] }, { kFactor: 20 })).toMatchObject({ final: [1510, 1490, 1500, 1500] });
    expect(
      of("alpha", {
        units: [
          [1, 1, null],
          [2, 2],
        ],
      }),
    ).toEqual({ nominal: 1, ordinal: 1, interval: 1 });
    expect(of("diagnostics", { ballots: BALLOTS }, PRIORS)).toMatchObject({
      voters: [{ voter: 0 }, { voter: 1 }, { voter: 2 }],
    });
    const category = of(
      "category",
      { categoryNames: ["game"], counts: [[0, 1, 1, 0, 3]] },
      { ...PRIORS, ridgeCategory: 1 },
    );
    expect(category).toMatchObject({ u: [[expect.any(Number)], [expect.any(Number)], [null], [null]] });
  });
});

describe("what is not right", () => {
  const rows = (row: unknown[]) => ({
    type: "fit",
    input: { entrants: ENTRANTS, K: 5, counts: [row] },
    options: { ridge: 0.1 },
  });
  it.each([
    ["an unknown entrant", rows([0, 9, 1, 1]), "names entrant 9"],
    ["an outcome off the scale", rows([0, 1, 0, 1]), "outcome 0"],
    ["a pair of one", rows([1, 1, 1, 1]), "pairs entrant 1 with itself"],
    ["a negative count", rows([0, 1, 1, -1]), "the count -1"],
    ["a count that is none", rows([0, 1, 1, null]), "has null for its n"],
    ["a text", rows([0, 1, "left", 1]), 'has "left" for its outcome'],
    ["a short row", rows([0, 1, 1]), "3 numbers instead of 4"],
    ["no ballots", { type: "fit", input: { entrants: ENTRANTS } }, "holds no ballots"],
    ["an unknown type", { type: "guess", input: {} }, "not right at type"],
    ["no object", [1, 2], "The file is not right"],
    [
      "a negative prior",
      { type: "fit", input: { entrants: ENTRANTS, counts: [] }, options: { ridge: -1 } },
      "options.ridge",
    ],
    [
      "columns of two lengths",
      { type: "fit", input: { entrants: ENTRANTS, ballots: { ...BALLOTS, voter: [0] } } },
      "The column voter has 1 rows",
    ],
    [
      "a voter that is no number",
      {
        type: "diagnostics",
        input: { entrants: ENTRANTS, ballots: { ...BALLOTS, voter: Array.from({ length: 8 }, () => "una") } },
      },
      'has "una" for its voter',
    ],
    ["a value off the scale", { type: "alpha", input: { units: [[1, 6]], K: 5 } }, "has the value 6"],
  ])("is refused with a reason: %s", (_what, file, message) => {
    expect(() => rateFile(file)).toThrow(message);
  });

  it("is named where it is only an option that nobody knows", () => {
    const { warnings } = rateFile({ type: "fit", input: { entrants: ENTRANTS, counts: [] }, options: { ridgr: 1 } });
    expect(warnings).toEqual(["The option ridgr is not known to fit and was ignored."]);
    const unset = { type: "fit", input: { entrants: ENTRANTS, counts: [] }, options: { anchor: null, side: null } };
    expect(rateFile(unset).warnings).toEqual([]);
  });
});
