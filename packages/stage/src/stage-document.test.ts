import { maskPattern } from "@tourney/core/extraction";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { hideInSheet, padTo, pageInStage, stageBytes, stageDocument } from "./index.js";

const NAMES = maskPattern([{ name: "Sea Kale 9", aliases: [] }]);

describe("the document of a stage", () => {
  it("has one length for all pages that it has room for, and holds the page whole", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", maxLength: 2000 }), (html) => {
        const text = stageDocument(html, { names: NAMES, bytes: stageBytes(30_000) });
        expect(Buffer.byteLength(text)).toBe(stageBytes(30_000));
        expect(pageInStage(text)).toBe(Buffer.from(html, "utf8").toString("utf8"));
      }),
      { numRuns: 50 },
    );
  });

  it("grows to the next power of two for a page that does not fit", () => {
    const bytes = Buffer.byteLength(stageDocument("x".repeat(200_000), { names: null, bytes: 1024 }));
    expect(Math.log2(bytes) % 1).toBe(0);
    expect(padTo("ä", 4)).toBe("ä  ");
  });

  it("lets no page end the script that holds it", () => {
    const text = stageDocument("</script><script>parent.own = 1</script>", { names: "</script>", bytes: 10 });
    expect(text.match(/<\/script>/g)).toHaveLength(3);
  });
});

describe("a style sheet", () => {
  it("has names hidden in what it generates, and nowhere else", () => {
    const css = `.sea-kale-9::before { content: "by Sea Kale 9" } p { content: 'kale' }`;
    expect(hideInSheet(css, NAMES)).toBe(`.sea-kale-9::before { content: "by ••• •••• •" } p { content: 'kale' }`);
    expect(hideInSheet(css, null)).toBe(css);
  });
});
