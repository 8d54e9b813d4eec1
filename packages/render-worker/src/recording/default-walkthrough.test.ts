import { describe, expect, it } from "vitest";
import { planGame } from "./default-walkthrough.js";
import { planSteps } from "./timeline.js";

const viewport = { width: 800, height: 500 };

describe("the usual inputs of a game", () => {
  it("are a click into the middle, the arrows and the space bar", () => {
    const steps = planGame({ viewport, seconds: 6 });
    expect(steps[0]).toEqual({ atMs: 600, click: { x: 400, y: 250 } });
    expect(steps.slice(1).map((step) => ("key" in step ? step.key : null))).toEqual([
      "ArrowRight",
      "ArrowLeft",
      "ArrowUp",
      "ArrowDown",
      "Space",
    ]);
  });

  it("are as many as the clip has room for, and each is seen to its end", () => {
    for (const seconds of [1, 2, 3, 4, 5, 6, 12]) {
      const steps = planGame({ viewport, seconds });
      expect(steps.length).toBeLessThanOrEqual(6);
      for (const { afterFrame, beforeFrame } of planSteps(steps, "default", seconds * 60)) {
        expect(afterFrame).toBeGreaterThan(beforeFrame);
        expect(afterFrame).toBeLessThanOrEqual(seconds * 60);
      }
    }
    expect(planGame({ viewport, seconds: 1 })).toEqual([]);
    expect(planGame({ viewport, seconds: 2 })).toHaveLength(2);
  });
});
