import {
  appendFileSync,
  closeSync,
  mkdtempSync,
  openSync,
  readFileSync,
  rmSync,
  writeFileSync,
  writeSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { readTail } from "./log-file.js";
import { rotateLog } from "./log-rotation.js";

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), "tourney-log-"))));
afterEach(() => rmSync(folder, { recursive: true }));

describe("a log", () => {
  it("is left alone while it is small, or not there", () => {
    const path = join(folder, "a.log");
    expect(rotateLog(path, 10)).toBe(false);
    writeFileSync(path, "small");
    expect(rotateLog(path, 10)).toBe(false);
    expect(readFileSync(path, "utf8")).toBe("small");
  });

  it("is rotated once it passes the limit while a program keeps writing, and three old files are kept", () => {
    const path = join(folder, "a.log");
    const writer = openSync(path, "a");
    for (let n = 1; n <= 5; n++) {
      writeSync(writer, `${n}: many lines\n`);
      expect(rotateLog(path, 10)).toBe(true);
    }
    writeSync(writer, "now\n");
    closeSync(writer);
    expect(["", ".1", ".2", ".3"].map((end) => readFileSync(`${path}${end}`, "utf8"))).toEqual([
      "now\n",
      "5: many lines\n",
      "4: many lines\n",
      "3: many lines\n",
    ]);
    expect(() => readFileSync(`${path}.4`)).toThrow("ENOENT");
  });

  it("is read from its end, however long it is", () => {
    const path = join(folder, "a.log");
    expect(readTail(path)).toBe("");
    for (let n = 0; n < 2000; n++) appendFileSync(path, `line ${n}\n`);
    expect(readTail(path)).toBe("line 1994\nline 1995\nline 1996\nline 1997\nline 1998\nline 1999");
  });
});
