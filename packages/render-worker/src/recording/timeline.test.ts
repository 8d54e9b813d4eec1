import { describe, expect, it } from "vitest";
import { atFrame, planCaptures, planInputs } from "./timeline.js";

describe("planCaptures", () => {
  it("takes the first painted frame, the last, and the rest evenly between", () => {
    const captures = planCaptures(6, 12);
    expect([captures.length, captures[0], captures.at(-1)]).toEqual([12, 2, 360]);
    const gaps = captures.slice(1).map((frame, i) => frame - captures[i]!);
    expect(Math.max(...gaps) - Math.min(...gaps)).toBeLessThanOrEqual(1);
    expect(atFrame(360)).toBe(6000);
  });
});

describe("planInputs", () => {
  it("turns held keys and clicks into presses and releases in time order", () => {
    const inputs = planInputs([
      { atMs: 500, key: "a", holdMs: 400 },
      { atMs: 600, click: { x: 3, y: 4 } },
    ]);
    expect(inputs.map(({ atMs, type }) => `${atMs} ${type}`)).toEqual([
      "500 keyDown",
      "600 mouseMoved",
      "600 mousePressed",
      "650 mouseReleased",
      "900 keyUp",
    ]);
  });

  it("leads a drag from its start to its end with the button held", () => {
    const [from, to] = [{ x: 10, y: 10 }, { name: "Harbour" }];
    const inputs = planInputs([
      { atMs: 0, drag: { from, to }, holdMs: 100 },
      { atMs: 20, type: "Skerry" },
    ]);
    expect(inputs.map(({ atMs, type }) => `${atMs} ${type}`)).toEqual([
      "0 mouseMoved",
      "0 mousePressed",
      "20 insertText",
      "50 mouseMoved",
      "100 mouseMoved",
      "101 mouseReleased",
    ]);
    expect(inputs[3]).toMatchObject({ isHeld: true, towards: { to, share: 0.5 } });
  });
});
