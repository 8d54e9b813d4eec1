import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "tourney-shelf-"));
  vi.stubEnv("TOURNEY_SHELF_DIR", folder);
  vi.resetModules();
  vi.spyOn(process.stderr, "write").mockReturnValue(true);
});
afterEach(() => {
  vi.unstubAllEnvs();
  vi.restoreAllMocks();
  rmSync(folder, { recursive: true, force: true });
});
const load = () => import("./shelf-command.js");

describe("tourney shelf", () => {
  it("says what to name when nothing is named", async () => {
    await expect((await load()).addToShelf([], {})).rejects.toMatchObject({
      code: "INVALID_INPUT",
      remedy: expect.stringContaining("./tourney shelf add three@0.160") as string,
    });
  });

  it("refuses what is no package's name before it asks anybody", async () => {
    for (const name of ["../secrets", "a b", "--registry=x", "file:/etc/passwd"])
      await expect((await load()).addToShelf([name], {})).rejects.toMatchObject({
        reason: expect.stringContaining("is no name of an npm package") as string,
      });
  });

  it("leaves a library that is there as it is, and lists it", async () => {
    const own = join(folder, "knots@2", "node_modules", "knots");
    mkdirSync(own, { recursive: true });
    writeFileSync(join(own, "package.json"), JSON.stringify({ name: "knots", version: "2.4.0", main: "knots.js" }));
    const printed: string[] = [];
    vi.spyOn(console, "log").mockImplementation((line: string) => void printed.push(line));
    const { addToShelf, listShelf } = await load();
    await addToShelf(["knots@2"], {});
    await listShelf({ json: true });
    expect(JSON.parse(printed[0]!)).toEqual([{ name: "knots", version: "2.4.0", integrity: null }]);
  });
});
