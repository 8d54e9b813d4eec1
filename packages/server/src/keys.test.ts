import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { createKeyReader, withoutKey } from "./keys.js";

describe("keys", () => {
  it("come from the environment, else from the file that it names", () => {
    const dir = mkdtempSync(join(tmpdir(), "tourney-keys-"));
    const path = join(dir, "keys");
    writeFileSync(path, '# keys\nHEATH_KEY="from file"\r\nEMPTY=\nGORSE_KEY=plain\n');
    const read = createKeyReader({ GORSE_KEY: "from environment", TOURNEY_KEYS_FILE: path });
    expect(["GORSE_KEY", "HEATH_KEY", "EMPTY", "OTHER"].map(read)).toEqual([
      "from environment",
      "from file",
      null,
      null,
    ]);
    rmSync(dir, { recursive: true });
    expect(read("HEATH_KEY")).toBeNull();
  });
  it("are blanked in what an endpoint says", () => {
    expect(withoutKey("Incorrect key: abc-123, abc-123", "abc-123")).toBe("Incorrect key: [key], [key]");
    expect(withoutKey("No key", null)).toBe("No key");
  });
});
