import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fence, page } from "../../test-support/answers.js";
import type { Rules } from "../contract/index.js";
import { extractArtifact, findShownLeaks, type KnownName } from "./index.js";
import { tellLibrary } from "./references.js";

const RULES: Rules = { singleFile: true, libraries: "forbidden", framework: "allowed" };
const NAMES: KnownName[] = [
  { name: "Samphire 3", aliases: ["samphire-3"] },
  { name: "Marram Large", aliases: [] },
  { name: "Marram", aliases: [] },
  { name: "Thrift 2", aliases: ["Thrift"] },
  { name: "Brinefield", aliases: [] },
];
const facts = (html: string, options: { rules?: Partial<Rules>; names?: KnownName[] } = {}) =>
  extractArtifact(fence("html", html), {
    stopReason: "stop",
    rules: { ...RULES, ...options.rules },
    names: options.names ?? NAMES,
  });
const leaksIn = (html: string) =>
  facts(html).leaks.map(({ name, text, where, confidence }) => ({ name, text, where, confidence }));

describe("what a page refers to", () => {
  it("lists what is not brought, by kind, with where", () => {
    const html = page(
      `<img src="boat.png" srcset="boat.png 1x, boat@2x.png 2x"><a href="about.html">about</a>
       <audio src="sounds/bell.mp3"></audio><svg><image href="gull.svg"/></svg>
       <script type="module">import { gate } from "./gate.js"; import * as T from "three"; new Audio("horn.ogg"); fetch("tides.json");</script>`,
      '<link rel="stylesheet" href="style.css?v=2"><style>body { background: url("sea.jpg") }</style>',
    );
    const { missing } = facts(html);
    expect(missing.map(({ path, kind }) => `${path} ${kind}`).toSorted()).toEqual(
      [
        "./gate.js module",
        "boat.png image",
        "boat@2x.png image",
        "gull.svg image",
        "horn.ogg sound",
        "sea.jpg image",
        "sounds/bell.mp3 sound",
        "style.css?v=2 style",
        "three module",
        "tides.json data",
      ].toSorted(),
    );
    for (const { path, start, end } of missing)
      expect(html.slice(start, end)).toContain(path.replace(/^boat@2x/, "boat@2x"));
  });

  it("leaves out what is inline, brought, mapped or only said in a comment", () => {
    const map =
      '<script type="importmap">{ "imports": { "three": "https://cdn.example/npm/three@0.160.0/build/three.module.js" } }</script>';
    const { missing, remote } = facts(
      page(
        `<img src="data:image/png;base64,AA"><!-- <img src="old.png"> --><script type="module">// import "./old.js"\nimport * as T from "three";</script>`,
        map,
      ),
    );
    expect(missing).toEqual([]);
    expect(remote).toMatchObject([{ library: "three", version: "0.160.0", kind: "module" }]);
  });

  it("does not take a link that a person would click, or a namespace, for something that is loaded", () => {
    const { remote, missing } = facts(
      page('<a href="https://skerry.example/tides">tides</a><svg xmlns="http://www.w3.org/2000/svg"></svg>'),
    );
    expect([remote, missing]).toEqual([[], []]);
  });

  it.each([
    ["https://cdn.example/npm/three@0.158.0/build/three.min.js", "three", "0.158.0"],
    ["https://cdn.example/npm/@scope/lib@2.0.1/dist/lib.js", "@scope/lib", "2.0.1"],
    ["https://pkg.example/p5@1.9.0", "p5", "1.9.0"],
    ["https://host.example/ajax/libs/gsap/3.12.2/gsap.min.js", "gsap", "3.12.2"],
    ["https://code.example/jquery-3.6.0.min.js", "jquery", "3.6.0"],
    ["https://d.example/d3.v7.min.js", "d3", "7"],
    ["//cdn.example/npm/chart.js", "chart", null],
    ["https://cdn.example/pixi.min.js", "pixi", null],
    ["https://fonts.example/css2?family=Lora&display=swap", null, null],
  ])("tells library and version from %s", (url, library, version) => {
    expect(tellLibrary(url)).toEqual({ library, version });
  });
});

describe("rules that were not kept", () => {
  const broken = (html: string, rules: Partial<Rules>) =>
    facts(html, { rules }).ruleBreaks.map(({ rule, message }) => `${rule}: ${message}`);

  it("says which library is used though none, or another, may be", () => {
    const html = page('<script src="https://cdn.example/npm/three@0.158.0/build/three.min.js"></script>');
    expect(broken(html, {})).toEqual([
      "libraries: it loads three 0.158.0 from a public host, but libraries are forbidden",
    ]);
    expect(broken(html, { libraries: ["three.js"] })).toEqual([]);
    expect(broken(html, { libraries: ["p5"] })).toHaveLength(1);
    expect(broken(html, { libraries: { use: ["three"] } })).toEqual([]);
    expect(broken(page(""), { libraries: { use: ["three"] } })).toEqual([
      "libraries: it does not use three, which was asked for",
    ]);
    expect(broken(html, { libraries: "allowed" })).toEqual([]);
  });

  it("finds a library that was copied into the page by its banner", () => {
    expect(broken(page("<script>/*! Howler v2.2.3 | MIT */ var a;</script>"), {})).toEqual([
      "libraries: it holds a copy of Howler 2.2.3, but libraries are forbidden",
    ]);
  });

  it("finds a framework by what is loaded, called, or written", () => {
    const loaded = page('<script src="https://cdn.example/npm/vue@3.4.1/dist/vue.global.js"></script>');
    expect(broken(loaded, { libraries: "allowed", framework: "forbidden" })).toEqual([
      "framework: it uses vue, but frameworks are forbidden",
    ]);
    const component = extractArtifact(fence("jsx", "export default function A() { return <p>x</p>; }"), {
      stopReason: null,
      rules: { ...RULES, framework: "forbidden" },
    });
    expect(component.ruleBreaks).toMatchObject([{ rule: "framework" }]);
    expect(broken(page("<p>How we react to the tide, and the view.</p>"), { framework: "forbidden" })).toEqual([]);
  });

  it("finds several files and parts where one file was asked for", () => {
    const answer = `${fence("html", page('<link rel="stylesheet" href="style.css">'))}\n**style.css**\n${fence("css", "p { color: red; }")}`;
    expect(extractArtifact(answer, { stopReason: null, rules: RULES }).ruleBreaks).toMatchObject([
      { rule: "singleFile", file: "style.css" },
    ]);
    const apart = `${fence("html", page("<p>x</p>"))}\n${fence("css", "p { color: red; }")}`;
    expect(extractArtifact(apart, { stopReason: null, rules: RULES }).ruleBreaks).toMatchObject([
      { rule: "singleFile", file: "index.html" },
    ]);
    expect(extractArtifact(apart, { stopReason: null, rules: { ...RULES, singleFile: false } }).ruleBreaks).toEqual([]);
  });

  it("finds the wrong language", () => {
    expect(broken(page(""), { language: "svg" })).toEqual(["language: an SVG file was asked for, and this is a page"]);
  });
});

describe("places where an output names its maker", () => {
  it.each([
    ["visible text", page("<p>Made by Samphire 3</p>"), "Samphire 3", "text"],
    ["text split by tags", page("<p>by <b>Sam</b>phire&nbsp;3</p>"), "Samphire\u00a03", "text"],
    ["a comment", page("<!-- generated by Marram Large -->"), "Marram Large", "comment"],
    ["an attribute", page('<img alt="Drawn by Brinefield" src="data:,">'), "Brinefield", "attribute"],
    ["a meta element", page("", '<meta name="generator" content="samphire-3">'), "samphire-3", "meta"],
    ["a console message", page('<script>console.log("Hello from Thrift 2");</script>'), "Thrift 2", "console"],
    ["a script's comment", page("<script>// Author: Thrift 2\n</script>"), "Thrift 2", "comment"],
    ["spelled out", page("<p>S a m p h i r e  3</p>"), "S a m p h i r e  3", "text"],
    ["dotted", page("<p>S.A.M.P.H.I.R.E-3</p>"), "S.A.M.P.H.I.R.E-3", "text"],
    ["look-alike letters", page("<p>Ѕаmрhirе 3</p>"), "Ѕаmрhirе 3", "text"],
    ["digits for letters", page("<p>by Br1nef1eld</p>"), "Br1nef1eld", "text"],
  ])("finds a name in %s", (_what, html, text, where) => {
    expect(leaksIn(html)).toMatchObject([
      { text: expect.stringContaining(text.slice(0, 3)) as string, where, confidence: "high" },
    ]);
  });

  it("finds a name in the title and in a file's name", () => {
    expect(
      leaksIn("<!DOCTYPE html><html><head><title>Lock by Samphire 3</title></head><body></body></html>"),
    ).toMatchObject([{ where: "title", confidence: "high" }]);
    const named = extractArtifact(`**samphire-3.html**\n${fence("html", page("x"))}`, {
      stopReason: null,
      names: NAMES,
    });
    expect(named.leaks).toMatchObject([{ where: "file name", file: "samphire-3.html" }]);
  });

  it("is found behind any number of words that only look like it", () => {
    const text = `${"Samphire 3x ".repeat(300)}Samphire 3`;
    expect(leaksIn(page(`<p>${text}</p>`))).toMatchObject([{ text: "Samphire 3", where: "text" }]);
    expect(leaksIn(page(`<p>${"Samphire 3 ".repeat(300)}</p>`))).toHaveLength(200);
  });

  it("is not sure of a word that the scene itself may hold", () => {
    expect(leaksIn(page("<p>Marram holds the dune together.</p>"))).toEqual([
      { name: "Marram", text: "Marram", where: "text", confidence: "low" },
    ]);
    expect(leaksIn(page("<p>A thrifty keeper; sea thrifts; marramgrass; Thrift 20.</p>"))).toEqual([
      { name: "Thrift 2", text: "Thrift", where: "text", confidence: "low" },
    ]);
    expect(leaksIn(page("<p>Calm arrivals; the farm arranged it.</p>"))).toEqual([]);
  });

  it("counts the longest name only, and gives its place", () => {
    const html = page("<p>Marram Large</p>");
    const [leak, ...rest] = facts(html).leaks;
    expect(rest).toEqual([]);
    expect(html.slice(leak!.start, leak!.end)).toBe("Marram Large");
  });
});

describe("any text at all", () => {
  const piece = fc.oneof(
    fc.string({ unit: "binary" }),
    fc.constantFrom(
      "```",
      "```html\n",
      "~~~",
      "<svg>",
      "<!doctype html>",
      "</html>",
      "<think>",
      "</think>",
      "\n",
      "**a.css**",
      "<script>",
      "`",
      "${",
      "{",
      '"',
      "\\",
      "<!--",
      "-->",
      "&lt;html&gt;",
      '{"html":"',
      "cat > a.html <<EOF\n",
      "EOF\n",
      "Samphire 3",
      "https://a.example/x@1.js",
      "url(",
      "\0",
      "\ud800",
    ),
  );
  it("never throws, keeps the limits, and explains itself", () => {
    fc.assert(
      fc.property(fc.array(fc.array(piece, { maxLength: 30 }), { minLength: 1, maxLength: 3 }), (parts) => {
        const found = extractArtifact(
          parts.map((part) => part.join("")),
          { stopReason: "length", rules: RULES, names: NAMES },
        );
        expect(found.files.length).toBeLessThanOrEqual(100);
        expect(found.entry === null).toBe(found.files.length === 0);
        expect(["ok", "truncated"].includes(found.verdict)).toBe(found.files.length > 0);
        expect(found.trace.every(({ part, why }) => part !== "" && why !== "")).toBe(true);
        for (const { path } of found.files) expect(path).not.toMatch(/^\/|(?:^|\/)\.\.(?:\/|$)|\0/);
      }),
      { numRuns: 600 },
    );
  });

  it("gives each page that a single fence holds back byte for byte", () => {
    const body = fc.string({ unit: "grapheme" }).filter((text) => !/```|~~~|\r/.test(text));
    fc.assert(
      fc.property(body, (text) => {
        const html = `<!DOCTYPE html>\n<html><body><p>${text.replace(/[<>&]/g, "")}</p></body></html>`;
        expect(extractArtifact(`Here.\n\n${fence("html", html)}\n\nDone.`, { stopReason: "stop" }).files[0]!.text).toBe(
          `${html}\n`,
        );
      }),
    );
  });
});

describe("what a page said while it was recorded", () => {
  it("is searched for names, each spelling once", () => {
    const shown = "Lock Keeper\nMade by Samphire 3\nmade by Samphire 3 again\nS A M P H I R E 3\nmarram grass";
    const leaks = findShownLeaks(shown, NAMES);
    expect(leaks.map(({ text, where }) => [text, where])).toEqual([
      ["Samphire 3", "screen"],
      ["S A M P H I R E 3", "screen"],
      ["marram", "screen"],
    ]);
    expect(leaks[0]!.confidence).toBe("high");
    expect(findShownLeaks("", NAMES)).toEqual([]);
  });
});
