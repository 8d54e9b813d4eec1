import { describe, expect, it } from "vitest";
import { planTried } from "./default-walkthrough.js";
import type { PageControls } from "./page-controls.js";
import { planSteps } from "./timeline.js";

const viewport = { width: 800, height: 500 };
const box = (left: number, top: number, width = 100, height = 30) => ({
  left,
  top,
  right: left + width,
  bottom: top + height,
});
const control = (role: string, name: string, more: Partial<PageControls["named"][number]> = {}) => ({
  ...{ role, name, isDisabled: false, nodeId: 1, address: null, leadsAway: false, box: box(10, 10) },
  ...more,
});
const NOTHING: PageControls = { named: [], surfaces: [], hasKeys: false };
const plan = (found: Partial<PageControls>, more: Partial<Parameters<typeof planTried>[1]> = {}) =>
  planTried({ ...NOTHING, ...found }, { viewport, seconds: 6, keysFirst: false, keys: [], ...more });

describe("what is tried on a page that nobody wrote inputs for", () => {
  it("is nothing where nothing can be worked", () => {
    expect(plan({})).toEqual({ steps: [], controls: [] });
  });

  it("is each control by its kind", () => {
    const { steps } = plan(
      {
        named: [
          control("button", "Go"),
          control("slider", "Speed"),
          control("textbox", "Name"),
          control("combobox", "Day"),
        ],
      },
      { seconds: 9 },
    );
    expect(steps.map(({ step, control: name }) => [name, Object.keys(step)[1]])).toEqual([
      ["button “Go”", "click"],
      ["slider “Speed”", "drag"],
      ["textbox “Name”", "click"],
      ["textbox “Name”", "type"],
      ["combobox “Day”", "click"],
      ["combobox “Day”", "key"],
    ]);
  });

  it("leaves links to other pages alone, and counts what is out of sight as not tried", () => {
    const { steps, controls } = plan({
      named: [
        control("link", "Elsewhere", { leadsAway: true }),
        control("button", "Below", { box: box(10, 900) }),
        control("button", "Hidden", { box: null }),
        control("button", "Go"),
      ],
    });
    expect(steps.map(({ control: name }) => name)).toEqual(["button “Go”"]);
    expect(controls).toEqual(["button “Below”", "button “Hidden”", "button “Go”"]);
  });

  it("is the keys that the page names on a game, after what begins it", () => {
    const found = { named: [control("button", "Start")], hasKeys: true };
    const named = plan(found, { keysFirst: true, keys: ["Space", "a"] });
    expect(named.steps.map(({ control: name }) => name)).toEqual(["button “Start”", "key Space", "key a"]);
    expect(plan({ hasKeys: true }, { keysFirst: true }).controls).toContain("key ArrowLeft");
    expect(plan({ hasKeys: false }, { keysFirst: true, keys: ["a"] }).controls).toEqual([]);
  });

  it("is a drag where a pointer is listened to all along", () => {
    const { steps } = plan({
      surfaces: [{ box: box(100, 100, 400, 300), isPressed: true, isDragged: true, isFollowed: false }],
    });
    expect(steps.map(({ step }) => Object.keys(step)[1])).toEqual(["click", "drag"]);
  });

  it("is as much as the clip has room for, and each is seen to its end", () => {
    const named = Array.from({ length: 20 }, (_, i) => control("button", `Go ${i}`));
    for (const seconds of [1, 2, 3, 6, 12]) {
      const { steps, controls } = plan({ named }, { seconds });
      expect(controls).toHaveLength(20);
      expect(steps.length).toBe(Math.max(0, Math.floor((seconds * 1000 - 1200) / 650)));
      const planned = planSteps(
        steps.map(({ step }) => step),
        "default",
        seconds * 60,
      );
      for (const { afterFrame, beforeFrame } of planned) expect(afterFrame).toBeGreaterThan(beforeFrame);
    }
  });
});
