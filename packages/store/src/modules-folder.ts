import { readdir } from "node:fs/promises";
import { join } from "node:path";

/** The packages in a `node_modules` folder, those of a scope by their whole names. */
export async function listPackages(modules: string): Promise<string[]> {
  const names = await list(modules);
  const inScopes = names
    .filter((name) => name.startsWith("@"))
    .map(async (scope) => (await list(join(modules, scope))).map((own) => `${scope}/${own}`));
  return [...names.filter((name) => !name.startsWith("@")), ...(await Promise.all(inScopes)).flat()];
}

/** What lies in a folder, but for what is hidden; nothing where there is none. */
export const list = async (path: string): Promise<string[]> =>
  (await readdir(path).catch(() => [])).filter((name) => !name.startsWith("."));
