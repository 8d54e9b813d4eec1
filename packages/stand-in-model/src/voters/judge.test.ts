import { createRandom } from "@tourney/core/random";
import { describe, expect, it } from "vitest";
import { loadExhibits } from "../exhibits.js";
import { drawTaste, judge, measureRichness, seemsToWork } from "./judge.js";

describe("measureRichness", () => {
  it("puts the best page of every exhibit above the worst", () => {
    for (const [name, { a, d }] of loadExhibits()) {
      expect(measureRichness(a.page), name).toBeGreaterThan(measureRichness(d.page));
    }
  });
  it("knows an empty page for one that does not work", () => {
    expect(seemsToWork(measureRichness("<html></html>"))).toBe(false);
  });
});

describe("judge", () => {
  it("leans to the richer page whichever side it is on, most of the time", () => {
    const { a, d } = loadExhibits().get("lock-keeper")!;
    const random = createRandom(4);
    const taste = drawTaste(random);
    const leans = Array.from({ length: 60 }, (_, i) =>
      i % 2 === 0 ? judge(a.page, d.page, taste, random).lean : -judge(d.page, a.page, taste, random).lean,
    );
    expect(leans.filter((lean) => lean < 0).length).toBeGreaterThan(50);
    for (const lean of leans) expect([-2, -1, 0, 1, 2]).toContain(lean);
  });
});
