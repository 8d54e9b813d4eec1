import type { WalkthroughStep } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { atFrame, frameFrom, planCaptures, planSteps } from "./timeline.js";

describe("planCaptures", () => {
  it("takes the first painted frame, the last, and the rest evenly between", () => {
    const captures = planCaptures(6, 12);
    expect([captures.length, captures[0], captures.at(-1)]).toEqual([12, 2, 360]);
    const gaps = captures.slice(1).map((frame, i) => frame - captures[i]!);
    expect(Math.max(...gaps) - Math.min(...gaps)).toBeLessThanOrEqual(1);
    expect(atFrame(360)).toBe(6000);
  });
});

describe("frameFrom", () => {
  it("is the first frame at or after a moment", () => {
    for (let ms = 0; ms < 3000; ms++) {
      const k = frameFrom(ms);
      expect(atFrame(k)).toBeGreaterThanOrEqual(ms);
      if (k > 0) expect(atFrame(k - 1)).toBeLessThan(ms);
    }
  });
});

const plan = (steps: WalkthroughStep[]) => planSteps(steps, "prompt", 360);
const list = (steps: WalkthroughStep[]) =>
  plan(steps)
    .flatMap(({ inputs }) => inputs)
    .map(({ atMs, type }) => `${atMs} ${type}`);

describe("planSteps", () => {
  it("turns held keys and clicks into presses and releases, with a rest on what is pressed before", () => {
    const steps = [
      { atMs: 1600, click: { x: 3, y: 4 } },
      { atMs: 500, key: "a", holdMs: 400 },
    ];
    expect(list(steps)).toEqual(["500 key", "900 key", "1350 mouseMoved", "1600 mousePressed", "1650 mouseReleased"]);
  });
  it("leads a drag from its start to its end with the button held", () => {
    const [from, to] = [{ x: 10, y: 10 }, { name: "Harbour" }];
    const [step] = plan([{ atMs: 500, drag: { from, to }, holdMs: 100 }]);
    expect(step!.inputs.map(({ atMs, type }) => `${atMs} ${type}`)).toEqual([
      "250 mouseMoved",
      "500 mousePressed",
      "550 mouseMoved",
      "600 mouseMoved",
      "601 mouseReleased",
    ]);
    expect(step!.inputs[2]).toMatchObject({ isHeld: true, towards: { to, share: 0.5 } });
  });
  it("moves the pointer evenly from wherever it is", () => {
    const [step] = plan([{ atMs: 0, move: { x: 9, y: 9 }, holdMs: 150 }]);
    expect(step!.inputs.map((input) => ("towards" in input ? input.towards.share : null))).toEqual([1 / 3, 1 / 2, 1]);
  });
  it("sends the wheel and another window's size as they are", () => {
    const resize = { width: 400, height: 700 };
    expect(plan([{ atMs: 1, wheel: { at: { x: 1, y: 2 }, byX: 0, byY: 90 } }])[0]!.inputs).toEqual([
      { atMs: 1, type: "mouseWheel", at: { x: 1, y: 2 }, byX: 0, byY: 90 },
    ]);
    expect(plan([{ atMs: 1, resize }])[0]!.inputs).toEqual([{ atMs: 1, type: "resize", viewport: resize }]);
  });
  it("looks before each input, and after it but before the next", () => {
    const [first, second] = plan([
      { atMs: 1000, key: "a", holdMs: 0 },
      { atMs: 1200, key: "b", holdMs: 0 },
    ]);
    expect(atFrame(first!.quietFrame)).toBeLessThan(atFrame(first!.beforeFrame));
    expect(atFrame(first!.beforeFrame)).toBeGreaterThanOrEqual(1000);
    expect(atFrame(first!.afterFrame)).toBe(1200);
    expect(atFrame(second!.afterFrame)).toBeGreaterThanOrEqual(1650);
  });
});
