import { BallotInput } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { actionOfKey, type BallotDraft, EMPTY_DRAFT, nextDraft, reasonsFor, toBallot } from "./ballot-draft.js";

describe("the booth's keys", () => {
  it("are those that its plates show", () => {
    expect(["1", "2", "3", "4", "5"].map((key) => actionOfKey(key))).toEqual(
      [-2, -1, 0, 1, 2].map((lean) => ({ type: "lean", lean })),
    );
    expect(["q", "P", "r", "f", "J", "v", "M", "s", "Enter", "Backspace"].map((key) => actionOfKey(key)?.type)).toEqual(
      [
        "toggleLeftWorks",
        "toggleRightWorks",
        "restart",
        "fullView",
        "fullView",
        "recordings",
        "sound",
        "skip",
        "confirm",
        "takeBack",
      ],
    );
    expect(["6", "0", "a", "Tab", "12"].map((key) => actionOfKey(key))).toEqual([null, null, null, null, null]);
  });
});

describe("a ballot's draft", () => {
  it("is no ballot before a notch is chosen", () => {
    expect(toBallot(EMPTY_DRAFT, { dwellMs: 100, seenWith: null })).toBeNull();
  });

  it("becomes a ballot that the contract takes", () => {
    const events = [
      { type: "lean", lean: 1 },
      { type: "toggleLeftWorks" },
      { type: "toggleReason", reason: "looks" },
      { type: "toggleReason", reason: "bugs" },
      { type: "toggleReason", reason: "looks" },
      { type: "note", note: " dark " },
      { type: "touch", side: "right" },
    ] as const;
    const draft = events.reduce<BallotDraft>(nextDraft, EMPTY_DRAFT);
    const ballot = toBallot(draft, {
      dwellMs: 1234.6,
      seenWith: { width: 1280, height: 800, pointer: "mouse", frameRate: 60 },
    });
    expect(ballot).toEqual({
      lean: 1,
      leftWorks: false,
      rightWorks: true,
      reasons: ["bugs"],
      note: "dark",
      dwellMs: 1235,
      leftTouched: false,
      rightTouched: true,
      seenWith: { width: 1280, height: 800, pointer: "mouse", frameRate: 60 },
    });
    expect(BallotInput.parse(ballot)).toEqual(ballot);
  });

  it("offers only the reasons that a kind can have", () => {
    expect(reasonsFor({ kind: "drawing", motion: false }).map(({ reason }) => reason)).not.toContain("controls");
    // One that a later turn asks to be animated.
    expect(reasonsFor({ kind: "drawing", motion: true }).map(({ reason }) => reason)).toContain("motion");
    expect(reasonsFor({ kind: "game", motion: true }).map(({ reason }) => reason)).toContain("controls");
  });
});
