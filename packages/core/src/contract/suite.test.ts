import { describe, expect, it } from "vitest";
import { SuiteDefinition } from "./suite.js";

const prompt = (key: string, extra: object = {}) => ({
  key,
  title: key,
  kind: "game",
  summary: "A game.",
  text: "Build it.",
  motion: true,
  watchpoints: ["It works"],
  ...extra,
});
const suite = (...prompts: object[]) => ({ format: "tourney-suite/1", key: "a-suite", title: "A suite", prompts });
const issuesOf = (value: object) =>
  (SuiteDefinition.safeParse(value).error?.issues ?? []).map(({ path, message }) => `${path.join(".")}: ${message}`);

describe("SuiteDefinition", () => {
  it("fills in what most prompts share", () => {
    const [first] = SuiteDefinition.parse(suite(prompt("one"))).prompts;
    expect(first).toMatchObject({
      viewport: { width: 1280, height: 800 },
      seconds: 6,
      rules: { singleFile: true, libraries: "forbidden" },
      walkthrough: [],
    });
  });

  it("refuses two prompts of one key, and says which", () => {
    expect(issuesOf(suite(prompt("one"), prompt("two"), prompt("one")))).toEqual([
      'prompts.2.key: "one" is already the key of prompt 1',
    ]);
  });

  it("refuses inputs after the recording's end or outside the viewport", () => {
    const walkthrough = [
      { atMs: 7000, key: "a" },
      { atMs: 10, click: { x: 1280, y: 5 } },
    ];
    expect(issuesOf(suite(prompt("one", { walkthrough })))).toEqual([
      "prompts.0.walkthrough.0.atMs: is after the end of the recording (6 s)",
      "prompts.0.walkthrough.1.click: is outside the viewport (1280 × 800)",
    ]);
  });

  it.each([
    ["an unknown word", prompt("one", { sekonds: 3 })],
    ["a key that no folder could have", prompt("One Two")],
    ["no watch-point", prompt("one", { watchpoints: [] })],
    ["a recording of a day", prompt("one", { seconds: 86_400 })],
  ])("refuses %s", (_what, bad) => {
    expect(issuesOf(suite(bad))).not.toEqual([]);
  });
});
