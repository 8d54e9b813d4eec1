import { describe, expect, it } from "vitest";
import { recordForTest } from "../../test-support/record-for-test.js";

const WHOLE = (body: string, css = "") =>
  `<!doctype html><html lang="en"><title>Tall</title><style>body, h2 { margin: 0 } ${css}</style>${body}</html>`;

describe("a page that goes on below the window", () => {
  it("is shown whole, with its parts in their places, and what appears on the way", async () => {
    const kept: string[] = [];
    const page = WHOLE(
      `<header style="height:40px">Museum</header>
       <main><section aria-label="Keels" style="height:400px">a</section><section style="height:300px"><h2>Sails</h2></section></main>
       <footer style="height:60px">The end</footer>
       <script>onscroll = () => { if (scrollY > 300 && !document.querySelector("aside")) document.querySelector("footer").style.background = "red"; };</script>`,
    );
    const { whole, shownText, outcome } = await recordForTest(
      page,
      {},
      { keep: (_webp, hint) => (kept.push(hint), Promise.resolve(hint)) },
    );
    expect(outcome).toBe("ok");
    expect(whole).toMatchObject({ width: 480, height: 800, pageHeight: 800, file: "whole" });
    expect(whole!.sections).toEqual([
      { role: "banner", name: "", top: 0, height: 40 },
      { role: "section", name: "Keels", top: 40, height: 400 },
      { role: "section", name: "Sails", top: 440, height: 300 },
      { role: "contentinfo", name: "", top: 740, height: 60 },
    ]);
    expect(kept).toContain("whole-320");
    expect(shownText).toContain("The end");
  });
  it("is told by its headings where it has no landmarks, and is cut off where it has no end", async () => {
    const { whole } = await recordForTest(WHOLE(`<h1>Knots</h1><div style="height:20000px"></div><h2>Splices</h2>`));
    expect(whole!.sections.map(({ role, name }) => [role, name])).toEqual([
      ["heading", "Knots"],
      ["heading", "Splices"],
    ]);
    expect(whole!.height).toBe(12_000);
    expect(whole!.pageHeight).toBeGreaterThan(20_000);
  });
  it("is not looked for where everything is in the window, or cannot be scrolled", async () => {
    expect((await recordForTest(WHOLE("<h1>Short</h1>"))).whole).toBeNull();
    const hidden = WHOLE(`<div style="height:2000px">x</div>`, "html, body { overflow: hidden }");
    expect((await recordForTest(hidden)).whole).toBeNull();
  });
});

describe("a stress test", () => {
  it("drives a page's count to its end, and measures what each level takes", async () => {
    const page = WHOLE(
      `<label>Number of gulls <input type="range" min="0" max="400" value="10" oninput="told.textContent = this.value; if (this.value > 350) setTimeout(() => { throw new Error('too many') })"></label><p id="told"></p>`,
    );
    const { stress, findings } = await recordForTest(page, { stress: true, seconds: 1 });
    expect(stress!.control).toBe("slider “Number of gulls”");
    expect(stress!.levels.map(({ load }) => load)).toEqual(["0", "100", "200", "300", "400"]);
    expect(stress!.levels.map(({ exceptions }) => exceptions > 0)).toEqual([false, false, false, false, true]);
    expect(findings.map(({ message }) => message)).toContain(
      "Throws when slider “Number of gulls” is turned up to 400",
    );
  });
  it("presses what adds, and leaves the page alone for three minutes of its time", async () => {
    const page = WHOLE(
      `<button onclick="list.append(document.createElement('li'))">Add a herring</button><ul id="list"></ul>
       <script>setTimeout(() => { throw new Error("late"); }, 100000); setTimeout(() => { document.body.append(" NaN "); }, 150000);</script>`,
    );
    const { stress, findings, outcome } = await recordForTest(page, { stress: true, seconds: 1 });
    expect(outcome).toBe("ok");
    expect(stress!.levels.map(({ load }) => load)).toEqual([
      "as it is",
      "4 presses",
      "16 presses",
      "64 presses",
      "256 presses",
    ]);
    expect(stress!.soak!.samples.at(-1)!.atMs).toBeGreaterThanOrEqual(179_000);
    expect(stress!.soak!.wrongWords).toEqual(["NaN"]);
    expect(findings.map(({ message }) => message)).toContain("Throws when it is left alone, by 105 s");
  });
  it("ends with what it has when the page does not last", async () => {
    const page = WHOLE(`<p>Waits</p><script>setTimeout(() => { for (;;); }, 30000)</script>`);
    const { stress, outcome } = await recordForTest(page, { stress: true, seconds: 1 }, { frameLimitMs: 3000 });
    expect(outcome).toBe("ok");
    expect(stress).toMatchObject({ control: null, soak: null });
  });
  it("is made only when it is asked for", async () => {
    expect((await recordForTest(WHOLE("<p>Waits</p>"), { seconds: 1 })).stress).toBeNull();
  });
});
