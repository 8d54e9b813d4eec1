import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { rankRecording } from "./extract-job.js";

describe("the priority of a recording", () => {
  const place = fc.record({ take: fc.integer({ min: 1, max: 100 }), round: fc.nat(10), position: fc.nat(5000) });

  it("is one that the queue can keep, whatever is recorded", () => {
    fc.assert(fc.property(place, (one) => rankRecording(one) >= 0 && rankRecording(one) <= 32_767));
  });

  it("puts rows before one another, and first takes before second ones", () => {
    expect(rankRecording({ take: 1, round: 0, position: 9 })).toBeLessThan(
      rankRecording({ take: 2, round: 0, position: 0 }),
    );
    expect(rankRecording({ take: 1, round: 0, position: 1 })).toBeLessThan(
      rankRecording({ take: 1, round: 0, position: 2 }),
    );
  });
});
