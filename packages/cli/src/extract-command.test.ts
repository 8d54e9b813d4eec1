import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { extract } from "./extract-command.js";

let dir: string;
let printed: string[];
beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), "tourney-extract-"));
  printed = [];
  vi.spyOn(console, "log").mockImplementation((line: string) => void printed.push(line));
});
afterEach(() => {
  vi.restoreAllMocks();
  process.exitCode = undefined;
  rmSync(dir, { recursive: true, force: true });
});

describe("tourney extract", () => {
  it("prints one JSON object and writes the files", async () => {
    const path = join(dir, "answer.md");
    writeFileSync(path, "Here:\n\n```html\n<!doctype html><html><body>é</body></html>\n```\n");
    await extract([path], { json: true, out: join(dir, "out") });
    const result = JSON.parse(printed[0]!) as {
      verdict: string;
      entry: string;
      files: { path: string; bytes: number; sha256: string }[];
    };
    expect(result).toMatchObject({
      verdict: "ok",
      entry: "index.html",
      files: [{ path: "index.html", bytes: 44, sha256: expect.stringMatching(/^[0-9a-f]{64}$/) as unknown }],
    });
    expect(readFileSync(join(dir, "out", "index.html"), "utf8")).toContain("é");
    expect(process.exitCode).toBe(0);
  });

  it("says what is missing, remote, against the rules, and telling, over several parts", async () => {
    const [first, second, rules, names] = ["1.md", "2.md", "rules.json", "names.json"].map((name) => join(dir, name));
    writeFileSync(first!, "```html\n<!doctype html><html><body><img src='boat.png'><p>By Marr");
    writeFileSync(
      second!,
      "am Large</p><script src='https://cdn.example/npm/three@0.1.0'></script></body></html>\n```\n",
    );
    writeFileSync(rules!, '{"libraries": "forbidden"}');
    writeFileSync(names!, '[{"name": "Marram Large", "maker": "Dune Works"}]');
    await extract([first!, second!], { json: true, rules: rules!, names: names! });
    expect(JSON.parse(printed[0]!)).toMatchObject({
      verdict: "ok",
      missing: [{ path: "boat.png", kind: "image" }],
      remote: [{ library: "three", version: "0.1.0" }],
      ruleBreaks: [{ rule: "libraries" }],
      leaks: [{ text: "Marram Large", where: "text", confidence: "high" }],
    });
  });

  it("ends with 2 for an answer without a page, and explains files that are not there or not right", async () => {
    const path = join(dir, "answer.md");
    writeFileSync(path, "No page today.");
    await extract([path], {});
    expect(process.exitCode).toBe(2);
    await expect(extract([join(dir, "none.md")], {})).rejects.toThrow("cannot be read");
    await expect(extract([path], { rules: path })).rejects.toThrow("is not JSON");
    const bad = join(dir, "bad.json");
    writeFileSync(bad, '{"libraries": 3}');
    await expect(extract([path], { rules: bad })).rejects.toThrow("does not hold a prompt's rules");
    await expect(extract([path], { names: bad })).rejects.toThrow("holds no names");
  });
});
