import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { packPage, padTo, pageInStage, stageBytes, stageDocument } from "./index.js";

const NAMES = [{ name: "Sea Kale 9", aliases: ["kale-large"] }];

describe("the document of a stage", () => {
  it("has one length for all pages that it has room for, and holds the page whole", async () => {
    await fc.assert(
      fc.asyncProperty(fc.string({ unit: "grapheme", maxLength: 2000 }), async (html) => {
        const text = stageDocument(await packPage(html), { names: NAMES, bytes: stageBytes(30_000) });
        expect(Buffer.byteLength(text)).toBe(stageBytes(30_000));
        expect(pageInStage(text)).toBe(Buffer.from(html, "utf8").toString("utf8"));
      }),
      { numRuns: 50 },
    );
  });

  it("grows by a step for a page that does not fit", () => {
    const bytes = Buffer.byteLength(stageDocument("x".repeat(200_000), { names: null, bytes: 1024 }));
    expect(bytes % 65_536).toBe(0);
    expect(padTo("ä", 4)).toBe("ä  ");
  });

  it("is not made eight megabytes long by an answer of two", async () => {
    const picture = Buffer.from(Uint8Array.from({ length: 1_500_000 }, (_, i) => (i * i * 2_654_435_761) >>> 13));
    const page = await packPage(`<img src="data:image/png;base64,${picture.toString("base64")}">`);
    expect(stageBytes(page.length)).toBeLessThan(3_000_000);
  });

  it("has nobody's name in it, and is another one each time", async () => {
    const page = await packPage("<p>a page</p>");
    const [one, two] = [1, 2].map(() => stageDocument(page, { names: NAMES, bytes: 1 }));
    expect(one).not.toMatch(/kale/i);
    expect(one).not.toBe(two);
  });

  it("lets no page end the script that holds it", async () => {
    const page = await packPage("</script><script>parent.own = 1</script>");
    const text = stageDocument(page, { names: [{ name: "</script>", aliases: [] }], bytes: 10 });
    expect(text.match(/<\/script>/g)).toHaveLength(3);
  });
});
