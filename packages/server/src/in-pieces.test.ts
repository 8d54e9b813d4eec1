import { describe, expect, it } from "vitest";
import { inPieces } from "./in-pieces.js";

function* work(steps: number, stepMs: number): Generator<undefined, number> {
  for (let step = 0; step < steps; step++) {
    for (const until = performance.now() + stepMs; performance.now() < until;);
    yield undefined;
  }
  return steps;
}

describe("inPieces", () => {
  it("comes to the same end, and lets others in on the way", async () => {
    let entered = 0;
    const timer = setInterval(() => entered++, 0);
    expect(await inPieces(work(20, 4))).toBe(20);
    clearInterval(timer);
    expect(entered).toBeGreaterThan(3);
  });

  it("hands on what goes wrong", async () => {
    const failing = (function* (): Generator<undefined, number> {
      yield undefined;
      throw new Error("no");
    })();
    await expect(inPieces(failing)).rejects.toThrow("no");
  });
});
