import { mkdir, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { BundledEntry, BundleManifest, EntrantsDefinition, PresentSuiteDefinition } from "@tourney/core/contract";
import * as z from "zod";

/**
 * Writes the JSON Schemas of the file formats from the Zod schemas that read them. With --check nothing is written, and
 * the command fails when a committed schema is not the generated one.
 */
const FOLDER = join(import.meta.dirname, "../docs/formats");
const SCHEMAS = {
  "suite.schema.json": PresentSuiteDefinition,
  "entrants.schema.json": EntrantsDefinition,
  "bundle-manifest.schema.json": BundleManifest,
  "bundle-entry.schema.json": BundledEntry,
};

const isCheck = process.argv.includes("--check");
await mkdir(FOLDER, { recursive: true });
for (const [name, schema] of Object.entries(SCHEMAS)) {
  const path = join(FOLDER, name);
  const text = `${JSON.stringify(z.toJSONSchema(schema, { io: "input", reused: "ref" }), null, 2)}\n`;
  if (!isCheck) await writeFile(path, text);
  else if ((await readFile(path, "utf8").catch(() => "")) !== text) {
    console.error(`${path} is not what the contract says. Run \`npm run formats:write\` and commit it.`);
    process.exitCode = 1;
  }
}
