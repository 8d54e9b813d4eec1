import { describe, expect, it } from "vitest";
import { dropIntegrity, wrapDrawing } from "./stage-page.js";

describe("dropIntegrity", () => {
  it("takes it from what comes from other hosts, and leaves every place in the page where it was", () => {
    const page = `<script src="https://unpkg.com/a" integrity="sha384-x" crossorigin></script><link href=//b/c.css rel=stylesheet integrity=sha256-y>`;
    const { html, dropped } = dropIntegrity(page);
    expect(dropped).toBe(2);
    expect(html).not.toContain("integrity");
    expect(html).toHaveLength(page.length);
    expect(html).toContain("crossorigin");
  });
  it("leaves the page's own files and text alone", () => {
    const page = `<script src="own.js" integrity="sha384-x"></script><p>integrity="x" https://unpkg.com</p>`;
    expect(dropIntegrity(page)).toEqual({ html: page, dropped: 0 });
  });
});

describe("a page for a stage", () => {
  it("shows a drawing without its declaration", () => {
    expect(wrapDrawing('<?xml version="1.0"?>\n<svg></svg>')).toMatch(/<\/style><svg><\/svg>$/);
  });
});
