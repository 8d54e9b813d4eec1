import { describe, expect, it } from "vitest";
import { printPage } from "./print-page.js";

const options = { browserPath: process.env["TOURNEY_BROWSER"], errors: () => undefined };

describe("a page that is printed", () => {
  it("becomes a PDF of as many pages as it is long", async () => {
    const tall = `<div style="height:${4 * 1120}px">Long</div>`;
    const [short, long] = [await printPage("<p>Short</p>", options), await printPage(tall, options)];
    const pagesOf = (pdf: Buffer) => pdf.toString("latin1").match(/\/Type\s*\/Page\b(?!s)/g)?.length ?? 0;
    expect(short.subarray(0, 5).toString()).toBe("%PDF-");
    expect(pagesOf(short)).toBe(1);
    expect(pagesOf(long)).toBeGreaterThan(3);
  });
});
