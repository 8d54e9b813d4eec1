import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { writeModules } from "./shelf-modules.js";

const modules = join(mkdtempSync(join(tmpdir(), "tourney-modules-")), "node_modules");
afterAll(() => rmSync(dirname(modules), { recursive: true, force: true }));
function put(name: string, manifest: object, files: Record<string, string>): void {
  const all = { "package.json": JSON.stringify({ name, version: "1.0.0", ...manifest }), ...files };
  for (const [path, text] of Object.entries(all)) {
    mkdirSync(dirname(join(modules, name, path)), { recursive: true });
    writeFileSync(join(modules, name, path), text);
  }
}

describe("writeModules", () => {
  it("makes a module with names of what has none, and keeps other packages apart", async () => {
    put("rope", {}, { "index.js": "exports.strands = 3; exports.twist = (n) => n * exports.strands;" });
    put(
      "knots",
      {},
      {
        "index.js": 'const rope = require("rope"); exports.splice = () => rope.twist(2); exports["not-a-name"] = 1;',
        "client.js": 'exports.tie = () => require("rope").strands;',
      },
    );
    put("sails", { module: "sails.mjs" }, { "sails.mjs": "export const area = 1;", "index.js": "exports.area = 1;" });
    await writeModules(modules);
    const made = readFileSync(join(modules, "knots", "index.tourney.mjs"), "utf8");
    expect(made).toMatch(/from "rope"/);
    expect(made).toMatch(/splice/);
    expect(made).not.toMatch(/strands = 3/);
    expect(existsSync(join(modules, "knots", "client.tourney.mjs"))).toBe(true);
    expect(existsSync(join(modules, "sails", "index.tourney.mjs"))).toBe(false);
    const rope = (await import(join(modules, "rope", "index.tourney.mjs"))) as { twist: (n: number) => number };
    expect(rope.twist(2)).toBe(6);
  });
});
