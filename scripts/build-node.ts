import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";
import * as z from "zod";

/**
 * Makes every Node package's `dist` from its sources, without checking types: that is `npm run types`, takes twenty times as long, and is
 * not what a person who wants to see Tourney start should wait for.
 */
const { references } = z
  .object({ references: z.array(z.object({ path: z.string() })) })
  .parse(JSON.parse(readFileSync("tsconfig.json", "utf8")));

await Promise.all(
  references.map(({ path }) =>
    build({
      entryPoints: listSources(join(path, "src")),
      outbase: join(path, "src"),
      outdir: join(path, "dist"),
      format: "esm",
      platform: "node",
      target: "node20.19",
      sourcemap: true,
      logLevel: "warning",
    }),
  ),
);

function listSources(folder: string): string[] {
  return readdirSync(folder, { recursive: true, encoding: "utf8" })
    .filter((file) => file.endsWith(".ts") && !file.endsWith(".test.ts"))
    .map((file) => join(folder, file));
}
