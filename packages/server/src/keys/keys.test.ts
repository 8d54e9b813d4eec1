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
  it("are what is called a key or a token, or what the operator lists, and never a setting of Tourney's own", () => {
    const environment = {
      ...{ HOME: "/root", DATABASE_URL: "postgres://u:p@h/d", GORSE_TOKEN: "t", GORSE_SECRET: "s", PATH: "/bin" },
      ...{ TOURNEY_SECRET: "own", TOURNEY_DB_KEY: "own", TOURNEY_KEY_NAMES: "GORSE_SECRET, TOURNEY_SECRET" },
    };
    const read = createKeyReader(environment);
    const names = Object.keys(environment);
    expect(names.filter((name) => read(name) !== null)).toEqual(["GORSE_TOKEN", "GORSE_SECRET"]);
  });
  it("are blanked in what an endpoint says", () => {
    expect(withoutKey("Incorrect key: abc-123, abc-123", "abc-123")).toBe("Incorrect key: [key], [key]");
    expect(withoutKey("No key", null)).toBe("No key");
  });
});
