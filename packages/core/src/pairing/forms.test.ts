import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Contest } from "../contract/index.js";
import { AS_IT_STANDS, mayMeet, nameSide, readSide } from "./forms.js";

const [X, Y] = ["00000000-0000-4000-8000-000000000001", "00000000-0000-4000-8000-000000000002"];

describe("sides of a contest", () => {
  it("are named by version and form, and read again", () => {
    fc.assert(
      fc.property(fc.uuid(), fc.string(), (versionId, form) => {
        expect(readSide(nameSide(versionId, form))).toEqual({ versionId, form });
      }),
    );
  });

  it("are of different entrants where entrants are compared, and of one everywhere else", () => {
    for (const contest of Contest.options) {
      const isBetween = ["entrants", "mended", "turn_pages"].includes(contest);
      expect(mayMeet(contest, nameSide(X, "turn 1"), nameSide(Y, "turn 2")), contest).toBe(isBetween);
    }
  });

  it.each<[Contest, string, string, boolean]>([
    ["hints", AS_IT_STANDS, "variant short", true],
    ["hints", "variant long", "variant short", false],
    ["turns", "turn 2", "turn 1", true],
    ["turns", "turn 9", "turn 10", true],
    ["turns", "turn 3", "turn 1", false],
    ["takes", "take 1", "take 3", true],
    ["rounds", "first shot", "mended", true],
  ])("in %s, %s meets %s: %s", (contest, a, b, may) => {
    expect(mayMeet(contest, nameSide(X, a), nameSide(X, b))).toBe(may);
    expect(mayMeet(contest, nameSide(X, b), nameSide(X, a))).toBe(may);
  });
});
