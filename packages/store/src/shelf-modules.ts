import { existsSync } from "node:fs";
import { readFile, writeFile } from "node:fs/promises";
import { createRequire } from "node:module";
import { dirname, join, resolve } from "node:path";
import { initSync, parse } from "cjs-module-lexer";
import { build, type Plugin } from "esbuild";
import * as z from "zod";
import { listPackages } from "./modules-folder.js";

/** Names of a package's further entries that pages import. */
const FURTHER = ["client", "jsx-runtime"];
const Manifest = z.object({
  name: z.string(),
  type: z.string().optional(),
  module: z.string().optional(),
  exports: z.unknown().optional(),
});

/**
 * Writes a module beside every package that has none, since hosts of modules make one on the way: `index.tourney.mjs`, and
 * one for each further entry. Packages that have a module of their own stay as they are.
 *
 * @param modules a `node_modules` folder.
 */
export async function writeModules(modules: string): Promise<void> {
  for (const name of await listPackages(modules)) {
    const folder = join(modules, name);
    const manifest = Manifest.safeParse(JSON.parse(await readFile(join(folder, "package.json"), "utf8"))).data;
    if (!manifest || manifest.type === "module" || manifest.module !== undefined || hasModule(manifest.exports))
      continue;
    for (const entry of ["", ...FURTHER.filter((further) => existsSync(join(folder, `${further}.js`)))]) {
      const resolved = resolveEntry(modules, entry === "" ? name : `${name}/${entry}`);
      // A package that cannot be turned into a module is still there as a plain script.
      if (resolved !== null) await writeModule(resolved, join(folder, `${entry || "index"}.tourney.mjs`));
    }
  }
}

const hasModule = (exported: unknown): boolean => /"(import|module)":|\.mjs"/.test(JSON.stringify(exported ?? null));

function resolveEntry(modules: string, name: string): string | null {
  try {
    return createRequire(join(modules, "x.js")).resolve(name);
  } catch {
    return null;
  }
}

async function writeModule(entry: string, outfile: string): Promise<void> {
  const exported = [...(await listExports(entry))].filter(
    (name) => /^[A-Za-z_$][\w$]*$/.test(name) && name !== "default",
  );
  const contents = `import whole from ${JSON.stringify(entry)};\nexport default whole;\nexport const { ${exported.join(", ")} } = whole;\n`;
  const { outputFiles } = await build({
    stdin: { contents, resolveDir: "/", loader: "js" },
    bundle: true,
    format: "esm",
    platform: "browser",
    define: { "process.env.NODE_ENV": '"production"' },
    plugins: [keepOthersApart(entry)],
    write: false,
    logLevel: "silent",
  }).catch(() => ({ outputFiles: [] }));
  const [file] = outputFiles;
  if (file) await writeFile(outfile, file.text);
}

/** Files that hand on what others export are followed this far. */
const MOST_FOLLOWED = 12;

/**
 * The names that a CommonJS file exports, read from its text: nothing of a package is run outside a page, since pages choose what is
 * taken in.
 */
async function listExports(entry: string): Promise<Set<string>> {
  initSync();
  const names = new Set<string>();
  const waiting = [entry];
  const root = packageOf(entry);
  for (let file = waiting.shift(), n = 0; file !== undefined && n < MOST_FOLLOWED; file = waiting.shift(), n++) {
    const found = await readFile(file, "utf8")
      .then((text) => parse(text))
      .catch(() => null);
    for (const name of found?.exports ?? []) names.add(name);
    for (const path of found?.reexports ?? []) {
      const resolved = path.startsWith(".") ? resolveEntry(dirname(file), path) : null;
      if (resolved !== null && isWithin(root, resolved)) waiting.push(resolved);
    }
  }
  return names;
}

/** The package's folder that a file of it lies in. */
const packageOf = (file: string): string =>
  /^(.*\/node_modules\/(?:@[^/]+\/)?[^/]+)\//.exec(file)?.[1] ?? dirname(file);

const isWithin = (folder: string, file: string): boolean => file.startsWith(`${folder}/`);

/** Other packages stay imports, so that two libraries share one copy of a third; they may be required or imported. */
const keepOthersApart = (entry: string): Plugin => ({
  name: "keep-others-apart",
  setup(bundler) {
    bundler.onResolve({ filter: /^[^./]/ }, ({ path, namespace }) => {
      if (path === entry) return null;
      return namespace === "other" ? { path, external: true } : { path, namespace: "other" };
    });
    // A package reaches no file but its own.
    bundler.onResolve({ filter: /^[./]/ }, ({ path, resolveDir }) =>
      path === entry || isWithin(packageOf(entry), resolve(resolveDir, path)) ? null : { path, external: true },
    );
    bundler.onLoad({ filter: /^/, namespace: "other" }, ({ path }) => ({
      contents: `export * from ${JSON.stringify(path)}; export { default } from ${JSON.stringify(path)};`,
    }));
  },
});
