import { mkdir, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import {
  BundledEntry,
  BundleManifest,
  EntrantsDefinition,
  PresentSuiteDefinition,
  RunReport,
} from "@tourney/core/contract";
import * as z from "zod";
import { recordSchemaOf } from "../packages/server/src/bundles/record-schema.js";
import { BUNDLED_TABLES } from "../packages/server/src/bundles/tables.js";
import { describeModels } from "../packages/server/src/db/models.js";

/**
 * Writes the JSON Schemas of the file formats from the Zod schemas that read them. With --check nothing is written, and
 * the command fails when a committed schema is not the generated one.
 */
const FOLDER = join(import.meta.dirname, "../docs/formats");
const MODELS = describeModels();
const SCHEMAS: Record<string, z.ZodType> = {
  "suite.schema.json": PresentSuiteDefinition,
  "entrants.schema.json": EntrantsDefinition,
  "bundle-manifest.schema.json": BundleManifest,
  "bundle-entry.schema.json": BundledEntry,
  "run-report.schema.json": RunReport,
  "bundle-records.schema.json": z
    .object(Object.fromEntries(BUNDLED_TABLES.map((table) => [table.name, recordSchemaOf(MODELS, table)])))
    .describe("What a line of records/<table>.jsonl is, by table."),
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
