import { describe, expect, it } from "vitest";
import type { BallotColumns } from "./ballots.js";
import { diagnoseVoters, signTest, wilsonInterval } from "./voter-diagnostics.js";

const OPTIONS = { K: 5, ridge: 0.1, side: false, ridgeSide: 0 };
type Row = [voter: number, prompt: number, left: number, right: number, outcome: number];
const toColumns = (rows: readonly Row[]): BallotColumns => ({
  voter: rows.map((row) => row[0]),
  prompt: rows.map((row) => row[1]),
  left: rows.map((row) => row[2]),
  right: rows.map((row) => row[3]),
  outcome: rows.map((row) => row[4]),
});
const diagnose = (rows: readonly Row[]) => diagnoseVoters(3, toColumns(rows), OPTIONS);

describe("the interval of a share", () => {
  it("is Wilson's (8 of 10: 0.490 to 0.943)", () => {
    const [low, high] = wilsonInterval(8, 10);
    expect(low).toBeCloseTo(0.4902, 4);
    expect(high).toBeCloseTo(0.9433, 4);
    expect(wilsonInterval(0, 4)[0]).toBe(0);
    expect(wilsonInterval(4, 4)[1]).toBe(1);
  });
});

describe("the exact test of halves", () => {
  it("adds up what is no more likely than what was seen", () => {
    expect(signTest(8, 10)).toBeCloseTo((2 * (1 + 10 + 45)) / 1024, 12);
    expect(signTest(5, 10)).toBe(1);
    expect(signTest(0, 3)).toBeCloseTo(0.25, 12);
    expect(signTest(1, 1)).toBe(1);
    expect(signTest(400_000, 1_000_000)).toBe(0);
    expect(signTest(499_000, 1_000_000)).toBeCloseTo(0.0457, 3);
  });
});

describe("a voter", () => {
  it("has a share for the left of what was not even", () => {
    const [voter] = diagnose([
      [0, 0, 0, 1, 1],
      [0, 1, 0, 1, 2],
      [0, 2, 0, 1, 3],
      [0, 3, 0, 1, 5],
      [1, 0, 0, 1, 3],
    ]).voters;
    expect(voter).toMatchObject({ voter: 0, ballots: 4, left: 2, right: 1, even: 1, leftShare: 2 / 3, leftShareP: 1 });
  });

  it("is compared with itself where it saw a pair with the sides exchanged", () => {
    const [voter] = diagnose([
      [0, 0, 0, 1, 1],
      [0, 0, 1, 0, 5],
      [0, 1, 0, 1, 2],
      [0, 1, 1, 0, 5],
      [0, 2, 0, 1, 3],
      [0, 2, 1, 0, 4],
      [0, 3, 0, 1, 2],
      [0, 3, 0, 1, 2],
    ]).voters;
    expect(voter).toMatchObject({ repeats: 3, selfAgreement: 2 / 3, selfAgreementExact: 1 / 3 });
  });

  it("is held against the ratings of the others alone", () => {
    const others: Row[] = [1, 2, 3, 4].flatMap((voter): Row[] => [
      [voter, 0, 0, 1, 1],
      [voter, 1, 1, 0, 4],
      [voter, 2, 0, 1, 3],
    ]);
    const { voters } = diagnose([...others, [0, 0, 0, 1, 5], [0, 1, 0, 1, 2], [0, 2, 0, 2, 1]]);
    expect(voters[0]).toMatchObject({ consensusBallots: 2, consensusAgreement: 0.5 });
    expect(voters[0]!.consensusLogScore).toBeLessThan(Math.log(0.5));
    expect(voters[1]!.consensusAgreement).toBe(1);
  });

  it("has nothing to be held against alone", () => {
    const { voters, alpha, alphaUnits } = diagnose([[0, 0, 0, 1, 1]]);
    expect(voters[0]).toMatchObject({
      consensusBallots: 0,
      consensusAgreement: null,
      consensusLogScore: null,
      repeats: 0,
      selfAgreement: null,
    });
    expect([alpha, alphaUnits]).toEqual([null, 0]);
  });
});

describe("agreement", () => {
  it("is of a voter's first ballot on each pair and prompt, whichever side stood left", () => {
    const rows: Row[] = [
      [0, 0, 0, 1, 1],
      [1, 0, 1, 0, 5],
      [0, 1, 1, 2, 4],
      [1, 1, 1, 2, 4],
      [1, 1, 1, 2, 1],
    ];
    expect(diagnose(rows)).toMatchObject({ alpha: 1, alphaUnsymmetrised: 1, alphaUnits: 2 });
  });
});
