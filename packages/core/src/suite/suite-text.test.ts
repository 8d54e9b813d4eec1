import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { SuiteDefinition } from "../contract/index.js";
import { insertPrompt, movePrompt, readSuiteText, removePrompt, setInSuite } from "./suite-text.js";
import { parseYaml } from "./yaml.js";

const TEXT = `# Kept by the museum.
format: tourney-suite/1
key: harbour
title: Harbour

prompts:
  - key: locks # the first one
    title: Locks
    kind: game
    summary: Work a lock.
    text: |
      Build a lock.
      One file.
    motion: false
    watchpoints:
      - The gates open

  # Drawn by hand.
  - key: flags
    title: "Flags"
    kind: drawing
    summary: A plate of flags.
    text: Draw flags.
    motion: false
    watchpoints: [ All letters are there ]
`;

const valueOf = (text: string | null) => {
  const parsed = parseYaml(SuiteDefinition, text!);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.issues));
  return parsed.value;
};

describe("reading a suite file that is being written", () => {
  it("lists its prompts with their lines", () => {
    const { parsed, prompts } = readSuiteText(TEXT);
    expect(parsed.ok).toBe(true);
    expect(prompts.map(({ index, line, value }) => [index, line, value["key"]])).toEqual([
      [0, 7, "locks"],
      [1, 19, "flags"],
    ]);
  });

  it("lists them even while one is wrong, and none while it is not YAML", () => {
    const wrong = readSuiteText(TEXT.replace("kind: game", "kind: sport"));
    expect(wrong.parsed.ok).toBe(false);
    expect(wrong.prompts).toHaveLength(2);
    expect(readSuiteText("prompts: [").prompts).toEqual([]);
    expect(readSuiteText("prompts: none").prompts).toEqual([]);
    expect(readSuiteText("").prompts).toEqual([]);
  });

  it("does not read what no suite could be", () => {
    const long = `${TEXT}#${"-".repeat(2_000_000)}`;
    expect(readSuiteText(long)).toMatchObject({ parsed: { ok: false, why: "size" }, prompts: [] });
    expect(setInSuite(long, ["title"], "x")).toBeNull();
  });
});

describe("changing a suite file in one place", () => {
  it("changes nothing else: comments, quotes and blank lines stay", () => {
    expect(setInSuite(TEXT, ["prompts", 0, "title"], "Lock Keeper")).toBe(
      TEXT.replace("title: Locks", "title: Lock Keeper"),
    );
    expect(setInSuite(TEXT, ["prompts", 0, "key"], "lock")).toBe(TEXT.replace("key: locks #", "key: lock #"));
  });

  it("writes texts of several lines as a block", () => {
    expect(setInSuite(TEXT, ["prompts", 1, "text"], "Draw flags.\nAll of them.")).toContain(
      "    text: |-\n      Draw flags.\n      All of them.\n",
    );
  });

  it("puts a new member where a file has it, and takes one out", () => {
    const added = setInSuite(TEXT, ["prompts", 0, "seconds"], 8)!;
    expect(added).toContain("      One file.\n    seconds: 8\n    motion: false\n");
    expect(setInSuite(added, ["prompts", 0, "seconds"], undefined)).toBe(TEXT);
    const step = { atMs: 500, key: "ArrowRight" };
    expect(valueOf(setInSuite(TEXT, ["prompts", 0, "walkthrough"], [step])).prompts[0]!.walkthrough).toEqual([
      { ...step, holdMs: 0 },
    ]);
  });

  it("refuses where there is nothing to change", () => {
    expect(setInSuite("a: [", ["prompts", 0, "title"], "x")).toBeNull();
    expect(setInSuite(TEXT, ["prompts", 7, "title"], "x")).toBeNull();
    expect(setInSuite(TEXT, ["prompts", 0, "title", "deeper"], "x")).toBeNull();
    expect(removePrompt("key: a\n", 0)).toBeNull();
  });

  it("reads back whatever was set", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", minLength: 1, maxLength: 80 }), (text) => {
        const changed = setInSuite(TEXT, ["prompts", 0, "text"], text);
        const raw = readSuiteText(changed!).prompts[0]!.value["text"];
        // YAML knows one line end only.
        expect(raw).toBe(text.replace(/\r\n?/g, "\n"));
      }),
      { numRuns: 300 },
    );
  });
});

describe("adding, moving and removing prompts", () => {
  const keysOf = (text: string | null) => valueOf(text).prompts.map(({ key }) => key);
  const added = { ...readSuiteText(TEXT).prompts[1]!.value, key: "signals" };

  it("puts one in at its place", () => {
    expect(keysOf(insertPrompt(TEXT, 1, added))).toEqual(["locks", "signals", "flags"]);
    expect(keysOf(insertPrompt(TEXT, 2, added))).toEqual(["locks", "flags", "signals"]);
  });

  it("removes and moves, with the remarks of what stays", () => {
    expect(keysOf(removePrompt(TEXT, 0))).toEqual(["flags"]);
    const moved = movePrompt(TEXT, 0, 1);
    expect(keysOf(moved)).toEqual(["flags", "locks"]);
    expect(moved).toContain("# Drawn by hand.");
    expect(moved).toContain("# the first one");
  });
});
