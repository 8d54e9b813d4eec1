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
  it("prints one JSON object and writes the files", () => {
    const path = join(dir, "answer.md");
    writeFileSync(path, "Here:\n\n```html\n<!doctype html><html><body>é</body></html>\n```\n");
    extract(path, { json: true, out: join(dir, "out") });
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

  it("ends with 2 for an answer without a page, and explains a file that is not there", () => {
    const path = join(dir, "answer.md");
    writeFileSync(path, "No page today.");
    extract(path, {});
    expect(process.exitCode).toBe(2);
    expect(() => extract(join(dir, "none.md"), {})).toThrow("cannot be read");
  });
});
