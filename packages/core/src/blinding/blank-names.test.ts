import { Script } from "node:vm";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { findLeaks } from "../extraction/leaks.js";
import { blankNames } from "./blank-names.js";

const NAMES = [
  { name: "Sea Kale 9", aliases: ["sea-kale-9"] },
  { name: "Shingle Bank", aliases: [] },
  { name: "Dash", aliases: [] },
];
const blank = (files: Record<string, string>) =>
  Object.fromEntries(
    blankNames(
      Object.entries(files).map(([path, text]) => ({ path, text })),
      NAMES,
    ).map(({ path, text }) => [path, text]),
  );
const one = (text: string, path = "index.html") => blank({ [path]: text })[path]!;

describe("the source of an entry that names its maker", () => {
  it.each([
    ["<!-- made by Sea Kale 9 --><p>x</p>", "<!-- made by ꞏꞏꞏ --><p>x</p>"],
    [`<meta name="generator" content="Sea Kale 9">`, `<meta name="generator" content="ꞏꞏꞏ">`],
    [`<title>Sea Kale 9</title><p>S&#101;a&nbsp;Kale 9</p>`, `<title>ꞏꞏꞏ</title><p>ꞏꞏꞏ</p>`],
    [`<script>/* Shingle Bank */ log("\\nSea Kale 9")</script>`, `<script>/* ꞏꞏꞏ */ log("\\nꞏꞏꞏ")</script>`],
    [String.raw`<script>x = "\u0053ea Kale 9"</script>`, `<script>x = "ꞏꞏꞏ"</script>`],
    [`<script>console.log("%cSea Kale 9", "")</script>`, `<script>console.log("%cꞏꞏꞏ", "")</script>`],
    [String.raw`<style>p::before { content: "\53 ea Kale 9" }</style>`, `<style>p::before { content: "ꞏꞏꞏ" }</style>`],
  ])("has dots for it: %s", (text, told) => expect(one(text)).toBe(told));

  it("has dots for every one of them, however many there are", () => {
    const many = one(`<p>${"Sea Kale 9 ".repeat(5000)}</p><script>x = [${'"Sea Kale 9",'.repeat(5000)}]</script>`);
    expect([many.match(/Kale/g), many.match(/ꞏ+/g)!.length]).toEqual([null, 10_000]);
  });

  it("has it in no data file and no address, base64 or plain", () => {
    const svg = `<svg xmlns="http://www.w3.org/2000/svg"><text>Sea Kale 9</text></svg>`;
    for (const data of [`data:image/svg+xml;base64,${btoa(svg)}`, `data:image/svg+xml,${encodeURIComponent(svg)}`]) {
      const address = /src="([^"]*)"/.exec(one(`<img src="${data}">`))![1]!;
      expect(decodeURIComponent(address)).toBe(`data:image/svg+xml;charset=utf-8,${svg.replace("Sea Kale 9", "ꞏꞏꞏ")}`);
    }
    expect(blank({ "index.html": "<p>", "data.json": `{"by":"Shingle Bank","n":1}` })["data.json"]).toBe(
      `{"by":"ꞏꞏꞏ","n":1}`,
    );
  });

  it("still works: one spelling is replaced alike where programs refer to it, and no two by the same", () => {
    const files = blank({
      "index.html": `<link rel=stylesheet href="sea-kale-9.css"><p id="seaKale9" class="sea-kale-9">x</p><script>const seaKale9 = document.getElementById("seaKale9"); class SeaKale9 {}</script>`,
      "sea-kale-9.css": ".sea-kale-9 { color: teal }",
    });
    const [, id, variable, asked, type] =
      /id="([^"]+)".*const (\S+) =.*getElementById\("([^"]+)"\).*class (\S+) \{\}/.exec(files["index.html"]!)!;
    expect([id, variable]).toEqual([asked, asked]);
    expect(type).not.toBe(variable);
    const [, sheet, name] = /href="([^"]+)".*class="([^"]+)"/.exec(files["index.html"]!)!;
    expect(files[sheet!]).toBe(`.${name} { color: teal }`);
    expect(JSON.stringify(files)).not.toMatch(/kale/i);
    expect(() => new Script(/<script>(.*)<\/script>/.exec(files["index.html"]!)![1]!)).not.toThrow();
  });

  it("keeps the words of the language and of its own code", () => {
    const code = `<script>c.setLineDash([1]); const dash = 1; s["dash"] = dash;</script>`;
    expect(one(code)).toBe(code);
    expect(one(`<p>Made by Dash</p>`)).toBe("<p>Made by ꞏꞏꞏ</p>");
  });

  it("names nobody any more, whatever it is made of, and is otherwise as it was", () => {
    const piece = fc.constantFrom(
      "Sea Kale 9",
      "shingle bank",
      "<!--",
      "-->",
      "<p>",
      "/*",
      "*/",
      `"`,
      "<script>",
      "</script>",
      " ",
      "tide",
      "\\n",
      "&amp;",
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 30 }), (pieces) => {
        const text = pieces.join("");
        const left = findLeaks([{ path: "index.html", text: one(text) }], NAMES.slice(0, 2));
        expect(left.filter(({ where }) => where !== "code")).toEqual([]);
        if (!/kale|shingle/i.test(text)) expect(one(text)).toBe(text);
      }),
      { numRuns: 300 },
    );
  });
});
