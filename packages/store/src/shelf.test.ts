import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { openShelf, readShelfIndex } from "./shelf.js";

const folder = mkdtempSync(join(tmpdir(), "tourney-shelf-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function put(group: string, name: string, manifest: object, files: Record<string, string>): void {
  const all = { "package.json": JSON.stringify({ name, ...manifest }), ...files };
  for (const [path, text] of Object.entries(all)) {
    const full = join(folder, group, "node_modules", name, path);
    mkdirSync(dirname(full), { recursive: true });
    writeFileSync(full, text);
  }
}
put(
  "knots@2",
  "knots",
  { version: "2.1.0", main: "dist/knots.js", module: "dist/knots.mjs", unpkg: "dist/knots.min.js" },
  {
    "dist/knots.js": "module.exports = 1",
    "dist/knots.min.js": "globalThis.knots = 2",
    "dist/knots.mjs": 'import { splice } from "@rope/core"; export default splice;',
    "dist/knots.css": "a { color: red }",
  },
);
put(
  "knots@2",
  "@rope/core",
  { version: "1.0.3", exports: { ".": { import: "./index.mjs" } } },
  { "index.mjs": "export const splice = 1;" },
);
const shelf = openShelf(folder);
async function find(url: string) {
  const found = await shelf.find(url);
  return found.kind === "found" ? { ...found, body: found.body.toString() } : found;
}

describe("a shelf", () => {
  it("knows every package in it, those that others brought along too", async () => {
    const packages = await readShelfIndex(folder);
    expect(packages.map(({ name, version }) => `${name} ${version}`).toSorted()).toEqual([
      "@rope/core 1.0.3",
      "knots 2.1.0",
    ]);
    expect(await readShelfIndex("/no/such/folder")).toEqual([]);
  });

  it("answers with a script and says what was asked for and what it is", async () => {
    expect(await find("https://unpkg.com/knots@2.0.0")).toMatchObject({
      kind: "found",
      body: "globalThis.knots = 2",
      contentType: "text/javascript; charset=utf-8",
      substitution: { asked: "knots 2.0.0", served: "knots 2.1.0", exact: false },
    });
    expect(await find("https://cdn.jsdelivr.net/npm/knots@2/dist/knots.css")).toMatchObject({
      contentType: "text/css; charset=utf-8",
      substitution: { exact: true },
    });
  });

  it("hands a module on to its one address, and makes its imports addresses there", async () => {
    const handedOn = await find("https://esm.sh/knots@2");
    expect(handedOn).toMatchObject({
      body: 'export * from "https://esm.sh/knots@2.1.0/dist/knots.mjs";\nexport { default } from "https://esm.sh/knots@2.1.0/dist/knots.mjs";\n',
    });
    expect(await find("https://esm.sh/knots@2.1.0/dist/knots.mjs")).toMatchObject({
      body: 'import { splice } from "https://esm.sh/@rope/core@1.0.3/index.mjs"; export default splice;',
      substitution: null,
    });
  });

  it("puts together what one address asks for, and is short of scripts where one of them is not there", async () => {
    const both = await find(
      "https://cdn.jsdelivr.net/combine/npm/knots@2/dist/knots.min.js,npm/@rope/core@1/index.mjs",
    );
    expect(both).toMatchObject({
      body: "globalThis.knots = 2;\nexport const splice = 1;",
      substitution: { asked: "knots 2, @rope/core 1" },
    });
    expect(await find("https://cdn.jsdelivr.net/combine/npm/knots@2,npm/sails@4")).toEqual({
      kind: "lacking",
      library: "sails 4",
    });
  });

  it("names a library that it lacks, and none where the address is of none", async () => {
    expect(await find("https://unpkg.com/sails@4")).toEqual({ kind: "lacking", library: "sails 4" });
    expect(await find("https://pictures.example/x.png")).toEqual({ kind: "lacking", library: null });
  });
});
