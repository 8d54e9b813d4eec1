import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { DEFAULT_MEND_TEMPLATE, SuiteDefinition } from "../contract/index.js";
import { compareSuites, findSameWordings, isSameSuite, parseYaml, partsOf, writeSuiteYaml } from "./index.js";

const prompt = (key: string, extra: object = {}) => ({
  key,
  title: key,
  kind: "game",
  summary: "A game.",
  text: "Build it.\n",
  motion: true,
  watchpoints: ["It works"],
  ...extra,
});
const suite = (...prompts: object[]) =>
  SuiteDefinition.parse({ format: "tourney-suite/2", key: "a-suite", title: "A suite", prompts });
const write = (value: SuiteDefinition) => writeSuiteYaml(value, DEFAULT_MEND_TEMPLATE);

const text = fc.string({ unit: "grapheme", minLength: 1, maxLength: 200 }).filter((value) => value.trim() !== "");
const anyPrompt = fc.record({
  title: text.map((value) => value.slice(0, 80)).filter((value) => value !== ""),
  summary: text.map((value) => value.slice(0, 160)).filter((value) => value !== ""),
  text: fc.array(text, { minLength: 1, maxLength: 6 }).map((lines) => lines.join("\n")),
  kind: fc.constantFrom("game", "animation", "drawing", "app"),
  motion: fc.boolean(),
  seconds: fc.constantFrom(1, 6, 12.5),
  tags: fc.array(fc.constantFrom("a", "b-2", "keyboard"), { maxLength: 3 }),
  turns: fc.array(fc.record({ text }), { maxLength: 2 }),
  rules: fc.record({
    singleFile: fc.boolean(),
    libraries: fc.constantFrom("forbidden", "allowed", ["three"], { use: ["p5", "three"] }),
    framework: fc.constantFrom("allowed", "forbidden"),
  }),
  starterFiles: fc
    .array(fc.record({ text: fc.string({ unit: "grapheme" }) }), { maxLength: 2 })
    .map((files) => files.map((file, i) => ({ path: `data/file-${i}.js`, ...file }))),
  walkthrough: fc.array(
    fc.constantFrom(
      { atMs: 5, key: "a" },
      { atMs: 9, key: "Space", holdMs: 40 },
      { atMs: 1, click: { x: 1, y: 2.5 } },
      { atMs: 2, click: { name: "on: off #1" } },
      { atMs: 3, type: "yes" },
      { atMs: 4, drag: { from: { x: 0, y: 0 }, to: { name: "B" } } },
    ),
    { maxLength: 4 },
  ),
  watchpoints: fc.array(
    fc.oneof(
      text.map((value) => value.slice(0, 200)),
      fc.record({ text: fc.constant("- it: 'moves'"), evidence: fc.constantFrom("motion", "log") }),
    ),
    { minLength: 1, maxLength: 3 },
  ),
});

describe("a suite file", () => {
  it("that is written canonically says the same when it is read, and is written the same again", () => {
    fc.assert(
      fc.property(fc.array(anyPrompt, { minLength: 1, maxLength: 3 }), text, (prompts, description) => {
        const parsed = SuiteDefinition.safeParse({
          format: "tourney-suite/1",
          key: "a-suite",
          title: "on",
          description,
          prompts: prompts.map((item, i) => ({ key: `p-${i}`, ...item })),
        });
        fc.pre(parsed.success);
        const yaml = write(parsed.data);
        const read = parseYaml(SuiteDefinition, yaml);
        expect(read).toEqual({ ok: true, value: parsed.data });
        expect(write((read as { value: SuiteDefinition }).value)).toBe(yaml);
      }),
      { numRuns: 150 },
    );
  }, 30_000);

  it("leaves out what holds anyway", () => {
    expect(write(suite(prompt("one")))).toBe(
      "format: tourney-suite/2\nkey: a-suite\ntitle: A suite\nprompts:\n  - key: one\n    title: one\n    kind: game\n    summary: A game.\n    text: |\n      Build it.\n    motion: true\n    watchpoints:\n      - It works\n",
    );
  });

  it("that is wrong has every issue with its line", () => {
    const yaml = write(suite(prompt("one"), prompt("two")))
      .replace("kind: game", "kind: poem")
      .replace("key: two", "key: one");
    expect(parseYaml(SuiteDefinition, yaml)).toMatchObject({
      ok: false,
      why: "content",
      issues: [{ line: 7, path: "prompts.0.kind" }],
    });
    const twice = write(suite(prompt("one"), prompt("two"))).replace("key: two", "key: one");
    expect(parseYaml(SuiteDefinition, twice)).toMatchObject({ issues: [{ line: 15, path: "prompts.1.key" }] });
    expect(parseYaml(SuiteDefinition, "a: [1,\nb")).toMatchObject({ ok: false, why: "syntax" });
    const bomb = `a: &a [x,x,x,x,x,x,x,x,x]\n${Array.from({ length: 8 }, (_, i) => `${"bcdefghi"[i]!}: &${"bcdefghi"[i]!} [${`*${"abcdefgh"[i]!},`.repeat(9)}]`).join("\n")}`;
    expect(parseYaml(SuiteDefinition, bomb)).toMatchObject({ ok: false, why: "aliases" });
  });

  it("may not hold variants that lead in a circle, or name nobody", () => {
    const variant = (key: string, of: string) => prompt(key, { variantOf: { prompt: of, change: "x" } });
    const issues = (...prompts: object[]) =>
      (SuiteDefinition.safeParse({ format: "tourney-suite/1", key: "s", title: "S", prompts }).error?.issues ?? []).map(
        ({ path, message }) => `${path.join(".")}: ${message}`,
      );
    expect(issues(variant("a", "b"), variant("b", "a"))).toEqual([
      "prompts.0.variantOf.prompt: leads back to the prompt itself",
      "prompts.1.variantOf.prompt: leads back to the prompt itself",
    ]);
    expect(issues(variant("a", "gone"))).toEqual(['prompts.0.variantOf.prompt: there is no prompt "gone"']);
    expect(issues(variant("a", "b"), prompt("b"), variant("c", "a"))).toEqual([]);
  });
});

describe("a suite file of version 1", () => {
  const OLD = `format: tourney-suite/1
key: s
title: S
prompts:
  - { key: a, title: A, kind: app, summary: Build., text: Build it., stages: [{ text: Now in red. }], motion: false, watchpoints: [It works] }
`;

  it("is read as the present version: its stages are turns", () => {
    const read = parseYaml(SuiteDefinition, OLD);
    expect(read).toMatchObject({
      ok: true,
      value: { format: "tourney-suite/2", prompts: [{ turns: [{ text: "Now in red." }] }] },
    });
    if (read.ok) expect(parseYaml(SuiteDefinition, write(read.value))).toEqual(read);
  });

  it("does not take members of the later version, nor the later one those of version 1", () => {
    const mixed = OLD.replace("motion: false", "turns: [], motion: false");
    expect(parseYaml(SuiteDefinition, mixed)).toMatchObject({ ok: false, why: "content" });
    expect(parseYaml(SuiteDefinition, OLD.replace("suite/1", "suite/2"))).toMatchObject({ ok: false, why: "content" });
  });
});

describe("the parts of a prompt", () => {
  const parts = (more: object) => partsOf(suite(prompt("one", more)).prompts[0]!);
  const changed = (more: object) => {
    const [was, is] = [parts({}), parts(more)];
    return (["wording", "recipe", "briefing"] as const).filter((part) => was[part] !== is[part]);
  };

  it.each<[string, object, string[]]>([
    ["the text", { text: "Build it well." }, ["wording"]],
    ["white space that is not sent", { text: "Build it.\n\n" }, []],
    ["a turn", { turns: [{ text: "Now in red." }] }, ["wording"]],
    ["a starter file", { starterFiles: [{ path: "a.json", text: "[]" }] }, ["wording"]],
    ["a rule", { rules: { libraries: "allowed" } }, ["wording"]],
    ["the viewport, which is told and recorded", { viewport: { width: 640, height: 480 } }, ["wording", "recipe"]],
    ["the walkthrough", { walkthrough: [{ atMs: 100, key: "a" }] }, ["recipe"]],
    ["the length of the recording", { seconds: 9 }, ["recipe"]],
    ["the title", { title: "Another" }, ["briefing"]],
    ["a watch-point", { watchpoints: ["It is red"] }, ["briefing"]],
    ["a tag", { tags: ["red"] }, ["briefing"]],
    ["the kind, from one that is not told to another", { kind: "app" }, ["recipe"]],
    ["the kind, to one that may be answered in SVG", { kind: "drawing" }, ["wording", "recipe"]],
  ])("%s changes what hangs on it, and nothing else", (_, more, expected) => {
    expect(changed(more)).toEqual(expected);
  });

  it("tell of prompts that send models the same", () => {
    const { prompts } = suite(prompt("one"), prompt("two"), prompt("three", { text: "Another." }));
    expect(findSameWordings(prompts)).toEqual([["one", "two"]]);
  });
});

describe("compareSuites", () => {
  const before = suite(prompt("one"), prompt("two"), prompt("three"));
  it("finds nothing between equal ones", () => {
    expect(isSameSuite(compareSuites(before, suite(prompt("one"), prompt("two"), prompt("three"))))).toBe(true);
  });
  it("tells what is added, removed, moved and changed, and is its own mirror image", () => {
    const after = {
      ...suite(prompt("three"), prompt("one", { text: "Build it well.\n", seconds: 8 }), prompt("four")),
      title: "B",
    };
    const difference = compareSuites(before, after);
    expect(difference).toMatchObject({
      added: ["four"],
      removed: ["two"],
      reordered: true,
      head: [{ field: "title", before: "A suite", after: "B" }],
    });
    expect(difference.changed).toEqual([
      {
        key: "one",
        title: "one",
        fields: [
          { field: "text", before: "Build it.\n", after: "Build it well.\n" },
          { field: "seconds", before: "6", after: "8" },
        ],
        parts: ["wording", "recipe"],
      },
    ]);
    // Three, and four: it sends what two sent.
    expect(difference.kept).toBe(2);
    const back = compareSuites(after, before);
    expect([back.added, back.removed]).toEqual([difference.removed, difference.added]);
  });
});
