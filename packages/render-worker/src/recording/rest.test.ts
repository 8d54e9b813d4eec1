import { describe, expect, it } from "vitest";
import { Rest } from "./rest.js";

/** The frames that are drawn of a page that is at rest from one frame on. */
async function listDrawn(isAtRest: (frame: number) => boolean, { to = 60, input = -1, isAllowed = true } = {}) {
  let now = 0;
  const rest = new Rest(() => Promise.resolve(isAtRest(now)), isAllowed);
  const drawn: number[] = [];
  for (now = 1; now <= to; now++) {
    if (now !== input && rest.leavesOut(now)) continue;
    if (now === input) rest.end(now);
    drawn.push(now);
    await rest.look(now);
  }
  return drawn;
}

describe("a page at rest", () => {
  it("is drawn in full at first, then ten times a second", async () => {
    const drawn = await listDrawn(() => true);
    expect(drawn.slice(0, 12)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]);
    expect(drawn.slice(12)).toEqual([18, 24, 30, 36, 42, 48, 54, 60]);
  });
  it("is drawn in full again when something goes on, and after an input", async () => {
    expect(await listDrawn((frame) => frame >= 30)).toEqual([
      ...Array.from({ length: 30 }, (_, i) => i + 1),
      36,
      42,
      48,
      54,
      60,
    ]);
    const drawn = await listDrawn(() => true, { input: 40 });
    expect(drawn.filter((frame) => frame >= 40)).toEqual([
      40, 41, 42, 43, 44, 45, 46, 47, 48, 49, 50, 51, 52, 53, 54, 60,
    ]);
  });
  it("is drawn in full where it may not be left alone", async () => {
    expect(await listDrawn(() => true, { isAllowed: false })).toHaveLength(60);
  });
});
