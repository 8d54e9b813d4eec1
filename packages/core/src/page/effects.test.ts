import { describe, expect, it } from "vitest";
import { chooseControlClips, isJudged, judgeStep } from "./effects.js";

const SAME = { sameDocument: true, samePixels: true };
const OTHER_PIXELS = { sameDocument: true, samePixels: false };
const OTHER_DOCUMENT = { sameDocument: false, samePixels: true };

describe("judgeStep", () => {
  it("believes the clip itself where the page stood still before", () => {
    expect(judgeStep({ quiet: SAME, answer: SAME })).toBe("none");
    expect(judgeStep({ quiet: SAME, answer: OTHER_PIXELS })).toBe("changed");
    expect(judgeStep({ quiet: SAME, answer: OTHER_DOCUMENT })).toBe("changed");
  });
  it("asks the control clip where the page moves by itself, as long as both were the same", () => {
    const moving = { quiet: OTHER_PIXELS, answer: OTHER_PIXELS };
    expect(judgeStep(moving)).toBeNull();
    expect(judgeStep({ ...moving, control: { before: SAME, after: SAME } })).toBe("none");
    expect(judgeStep({ ...moving, control: { before: SAME, after: OTHER_PIXELS } })).toBe("changed");
    expect(judgeStep({ ...moving, control: { before: OTHER_PIXELS, after: OTHER_PIXELS } })).toBeNull();
  });
  it("asks the clip without this input last", () => {
    const diverged = {
      quiet: OTHER_PIXELS,
      answer: OTHER_PIXELS,
      control: { before: OTHER_PIXELS, after: OTHER_PIXELS },
    };
    expect(judgeStep({ ...diverged, without: SAME })).toBe("none");
    expect(judgeStep({ ...diverged, without: OTHER_PIXELS })).toBe("changed");
  });
  it("takes a document that could not be read for no evidence", () => {
    expect(judgeStep({ quiet: SAME, answer: { sameDocument: null, samePixels: true } })).toBe("none");
  });
});

describe("isJudged", () => {
  it("leaves out what takes the focus", () => {
    const click = { atMs: 1, click: { name: "a" } };
    expect(isJudged(click, "textbox “Name”")).toBe(false);
    expect(isJudged(click, "button “Go”")).toBe(true);
    expect(isJudged({ atMs: 1, move: { x: 1, y: 1 }, holdMs: 0 }, null)).toBe(true);
    expect(isJudged({ atMs: 1, key: "a", holdMs: 0 }, null)).toBe(true);
  });
});

describe("chooseControlClips", () => {
  const steps = [
    { name: "Up", effect: null },
    { name: "Up", effect: null },
    { name: "Down", effect: "changed" as const },
    { name: "Down", effect: null },
    { name: "Left", effect: null },
    { name: "Right", effect: null },
  ];
  it("makes one for each kind of input that is not known to work, up to a limit", () => {
    expect(chooseControlClips(steps, 9)).toEqual([0, 4, 5]);
    expect(chooseControlClips(steps, 2)).toEqual([0, 4]);
  });
});
