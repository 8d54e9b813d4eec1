import { WalkthroughStep } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { formatViewports, toNames, toNumber, toViewports } from "./raw-values.js";
import {
  describeStep,
  holdStep,
  listPoints,
  moveStep,
  newStep,
  readSteps,
  setButton,
  setTarget,
  type StepKind,
  toFileStep,
} from "./walkthrough-steps.js";

const KEY: WalkthroughStep = { atMs: 700, key: "ArrowRight", holdMs: 1200 };
const CLICK: WalkthroughStep = { atMs: 100, click: { x: 10, y: 20 } };
const DRAG: WalkthroughStep = { atMs: 100, drag: { from: { x: 1, y: 2 }, to: { name: "Bin" } }, holdMs: 400 };
const TYPE: WalkthroughStep = { atMs: 100, type: "storm" };

describe("an input of a walkthrough", () => {
  it("is told in words", () => {
    expect([KEY, CLICK, DRAG, TYPE].map(describeStep)).toEqual([
      "ArrowRight held 1.2 s",
      "click 10, 20",
      "drag 1, 2 to “Bin”",
      "type “storm”",
    ]);
    expect(describeStep({ atMs: 0, click: { role: "button", name: "Day after" } })).toBe("click button “Day after”");
  });

  it("of every kind is told in words, and aimed where it has a place", () => {
    const place = { x: 5, y: 6 };
    const steps: WalkthroughStep[] = [
      { atMs: 0, click: place, with: "double" },
      { atMs: 0, tap: { name: "Start" } },
      { atMs: 0, swipe: { from: place, to: { x: 7, y: 8 } }, holdMs: 300 },
      { atMs: 0, paste: "a list" },
      { atMs: 0, reload: true },
    ];
    expect(steps.map(describeStep)).toEqual([
      "double click 5, 6",
      "tap “Start”",
      "swipe 5, 6 to 7, 8",
      "paste “a list”",
      "load again",
    ]);
    expect(steps.map((step) => listPoints(step).length)).toEqual([1, 0, 2, 0, 0]);
    expect(setTarget(steps[1]!, "tap", place)).toEqual({ atMs: 0, tap: place });
    expect(setTarget(steps[2]!, "to", place)).toMatchObject({ swipe: { from: place, to: place } });
    const click = { atMs: 0, click: place } as const;
    expect([setButton(click, "right"), setButton({ ...click, with: "right" }, "")]).toEqual([
      { ...click, with: "right" },
      click,
    ]);
  });

  it("moves in steps of 50 ms and stays within the recording", () => {
    expect(moveStep(KEY, 733, 6).atMs).toBe(750);
    expect(moveStep(KEY, -40, 6).atMs).toBe(0);
    expect(moveStep(KEY, 99_999, 6).atMs).toBe(6000);
  });

  it("is held no shorter than it can be", () => {
    expect(holdStep(KEY, -5)).toEqual({ ...KEY, holdMs: 0 });
    expect(holdStep(DRAG, 0)).toEqual({ ...DRAG, holdMs: 50 });
    expect(holdStep(CLICK, 500)).toBe(CLICK);
  });

  it("is aimed in the part that it has", () => {
    expect(listPoints(DRAG)).toEqual([{ part: "from", x: 1, y: 2 }]);
    expect(listPoints(KEY)).toEqual([]);
    expect(setTarget(CLICK, "click", { x: 3, y: 4 })).toEqual({ ...CLICK, click: { x: 3, y: 4 } });
    expect(setTarget(DRAG, "to", { x: 3, y: 4 })).toMatchObject({ drag: { from: { x: 1, y: 2 }, to: { x: 3, y: 4 } } });
    expect(setTarget(DRAG, "click", { x: 3, y: 4 })).toBe(DRAG);
    expect(setTarget(KEY, "click", { x: 3, y: 4 })).toBe(KEY);
  });

  it("is right as soon as it is added, after the last and before the end", () => {
    const recording = { seconds: 2, viewport: { width: 400, height: 300 } };
    for (const kind of [
      "key",
      "click",
      "drag",
      "type",
      "paste",
      "tap",
      "swipe",
      "reload",
      "move",
      "wheel",
      "resize",
    ] as StepKind[]) {
      const step = newStep(kind, [KEY], recording);
      expect(WalkthroughStep.safeParse(toFileStep(step)).success, kind).toBe(true);
      expect(step.atMs).toBe(2000);
      expect(newStep(kind, [], recording).atMs).toBe(500);
    }
  });

  it("is written as shortly as a file has it, and read back", () => {
    expect(toFileStep({ atMs: 5, key: "a", holdMs: 0 })).toEqual({ atMs: 5, key: "a" });
    expect(readSteps([{ atMs: 5, key: "a" }, { atMs: "soon" }, 7])).toEqual([
      { atMs: 5, key: "a", holdMs: 0 },
      null,
      null,
    ]);
  });
});

describe("what is typed into the form", () => {
  it("becomes numbers, names and sizes where it is some, and stays as it is otherwise", () => {
    expect([toNumber(" 6.5 "), toNumber("six"), toNumber("")]).toEqual([6.5, "six", undefined]);
    expect([toNames("a, b ,,c"), toNames(" , ")]).toEqual([["a", "b", "c"], undefined]);
    expect(toViewports("390 × 844, 768x1024, wide")).toEqual([
      { width: 390, height: 844 },
      { width: 768, height: 1024 },
      "wide",
    ]);
    expect(formatViewports([{ width: 390, height: 844 }, "wide"])).toBe("390 × 844, wide");
  });
});
