import { describe, expect, it } from "vitest";
import { signTest, type VoterDiagnostics } from "@tourney/core/ratings";
import { flagVoter } from "./flag-voter.js";

const found = (more: Partial<VoterDiagnostics>): VoterDiagnostics => ({
  voter: 0,
  ballots: 20,
  left: 8,
  right: 8,
  even: 4,
  leftShare: 0.5,
  leftShareCI: [0.3, 0.7],
  leftShareP: 1,
  repeats: 0,
  selfAgreement: null,
  selfAgreementExact: null,
  consensusBallots: 20,
  consensusDecisive: 16,
  consensusAgreement: 0.6,
  consensusLogScore: -1.4,
  ...more,
});

describe("flagVoter", () => {
  it("finds nothing in a voter with a taste of his own", () => {
    expect(flagVoter(found({}), 15_000)).toEqual([]);
    expect(flagVoter(found({ left: 11, right: 5, leftShareP: signTest(11, 16) }), 15_000)).toEqual([]);
    expect(flagVoter(found({ repeats: 2, selfAgreement: 0 }), 15_000)).toEqual([]);
    expect(flagVoter(found({ ballots: 3 }), 500)).toEqual([]);
  });
  it.each([
    [{ left: 15, right: 1, leftShareP: signTest(15, 16) }, "leans left in 15 of 16 decisive ballots (p = 0.0005)"],
    [{ repeats: 5, selfAgreement: 0.2 }, "agrees with itself on 20 % of 5 bouts shown twice"],
    [{ consensusAgreement: 1 / 16 }, "agrees with the others in 1 of 16 decisive ballots (p = 0.0005)"],
    [{ even: 18 }, "calls 90 % of 20 bouts even"],
  ])("tells the evidence of %j", (more, flag) => {
    expect(flagVoter(found(more), 15_000)).toEqual([flag]);
  });
  it("tells of ballots that nobody can cast so fast", () => {
    expect(flagVoter(found({}), 1400)).toEqual(["casts half of 20 ballots within 1.4 s"]);
  });
});
