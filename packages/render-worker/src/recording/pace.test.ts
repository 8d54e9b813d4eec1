import { describe, expect, it } from "vitest";
import { chooseStride, Pace, PlayedWrongly } from "./pace.js";

/** Plays 300 frames that cost what the function says each; resolves with the stride that was asked for, or null. */
async function play(
  costMs: (frame: number) => number,
  { stride = 1, drawnEvery = 1, isShown = (_frame: number): boolean => false } = {},
): Promise<number | null> {
  let spentMs = 0;
  const pace = new Pace(() => spentMs, stride);
  try {
    for (let frame = drawnEvery; frame <= 300; frame += drawnEvery) {
      const advance = () => {
        for (let k = frame - drawnEvery + 1; k <= frame; k++) spentMs += costMs(k);
        return Promise.resolve();
      };
      await pace.draw(frame, { isShown: isShown(frame) }, advance);
    }
    return null;
  } catch (error) {
    if (error instanceof PlayedWrongly) return error.change.stride ?? null;
    throw error;
  }
}

describe("Pace", () => {
  it("lets ordinary pages go on, also those that take long to begin", async () => {
    expect(await play(() => 15)).toBeNull();
    expect(await play((frame) => (frame === 12 ? 1200 : 8))).toBeNull();
  });
  it("asks for fewer frames where each is heavy, whenever that begins within the first seconds", async () => {
    expect(await play(() => 90)).toBe(10);
    expect(await play((frame) => (frame < 60 ? 3 : 90))).toBe(10);
    expect(await play((frame) => (frame < 200 ? 3 : 90))).toBeNull();
  });
  it("sees through work that is done in bulk", async () => {
    expect(await play((frame) => (frame % 30 === 0 ? 1800 : 3))).toBe(10);
  });
  it("measures where frames are left out as well", async () => {
    expect(await play(() => 90, { drawnEvery: 6 })).toBe(10);
    expect(await play(() => 15, { drawnEvery: 6 })).toBeNull();
  });
  it("does not count what is shown, which is drawn at any pace", async () => {
    const isShown = (frame: number) => frame % 10 === 0;
    expect(await play((frame) => (isShown(frame) ? 900 : 3), { isShown })).toBeNull();
  });
  it("does not ask twice", async () => {
    expect(await play(() => 80, { stride: 4 })).toBeNull();
  });
});

describe("chooseStride", () => {
  it("grows with what a frame costs, up to four frames a second", () => {
    expect([50, 90, 400, 5000].map(chooseStride)).toEqual([6, 10, 15, 15]);
  });
});
