import { readFile, readdir } from "node:fs/promises";
import { join } from "node:path";
import type { Substitution } from "@tourney/core/contract";
import {
  addressBareImports,
  addressRelative,
  chooseOnShelf,
  expandAddress,
  handOn,
  moduleAddress,
  readLibraryRequest,
  type ShelfChoice,
  type ShelfPackage,
} from "@tourney/core/shelf";
import * as z from "zod";
import { list, listPackages } from "./modules-folder.js";
import type { Intake } from "./shelf-intake.js";

export type OnShelf =
  | {
      kind: "found";
      body: Buffer;
      contentType: string;
      /** What the page got for what it asked; null for what the shelf's own files ask of each other. */
      substitution: Substitution | null;
    }
  /** The library is known and not there, or the address is none of a library. */
  | { kind: "lacking"; library: string | null };

/** Libraries on disk that stand in for the public hosts which pages load them from. */
export interface Shelf {
  find: (address: string) => Promise<OnShelf>;
  packages: () => Promise<readonly ShelfPackage[]>;
  /**
   * Takes in what addresses stand for and the shelf lacks, where it may.
   * @returns how many packages were added.
   */
  takeIn: (addresses: readonly string[]) => Promise<number>;
}

const TYPES: Readonly<Record<string, string>> = {
  js: "text/javascript; charset=utf-8",
  mjs: "text/javascript; charset=utf-8",
  cjs: "text/javascript; charset=utf-8",
  css: "text/css; charset=utf-8",
  json: "application/json",
  wasm: "application/wasm",
  woff: "font/woff",
  woff2: "font/woff2",
  ttf: "font/ttf",
  svg: "image/svg+xml",
  png: "image/png",
  jpg: "image/jpeg",
};

/** How long what was read of the shelf is taken to be still so: a library may be added while pages are recorded. */
const FRESH_MS = 10_000;

/**
 * A shelf in a folder, each package in one of its own as `./tourney shelf add` puts it there. A missing folder is an empty shelf.
 *
 * @param intake fetches what is lacking; without it nothing is.
 */
export function openShelf(folder: string, intake: Intake | null = null): Shelf {
  let known: { packages: readonly ShelfPackage[]; readAtMs: number } | null = null;
  const packages = async () => {
    if (known === null || performance.now() - known.readAtMs > FRESH_MS)
      known = { packages: await readShelfIndex(folder), readAtMs: performance.now() };
    return known.packages;
  };
  return {
    packages,
    async takeIn(addresses) {
      const count = intake === null ? 0 : await intake.takeIn(addresses, await packages());
      if (count > 0) known = null;
      return count;
    },
    async find(address) {
      const parts = expandAddress(address);
      return parts === null ? findOne(address) : combine(address, parts, await Promise.all(parts.map(findOne)));
    },
  };

  async function findOne(address: string): Promise<OnShelf> {
    const request = readLibraryRequest(address);
    if (request === null) return { kind: "lacking", library: null };
    const all = await packages();
    const choice = chooseOnShelf(all, request);
    if (choice === null) return { kind: "lacking", library: describe(request.library, request.range) };
    const { package: chosen, path, exact } = choice;
    const bytes = await readFile(join(folder, chosen.folder, path));
    const extension = path.slice(path.lastIndexOf(".") + 1).toLowerCase();
    const module = request.isModule && /^m?js$/.test(extension) ? { all, choice, address } : null;
    const made = module === null ? null : makeModule(bytes.toString("utf8"), module);
    const substitution = {
      url: address.slice(0, 1000),
      asked: describe(request.library, request.range),
      served: `${chosen.name} ${chosen.version}`,
      exact,
    };
    return {
      kind: "found",
      body: made === null ? bytes : Buffer.from(made.text),
      contentType: TYPES[extension] ?? "application/octet-stream",
      substitution: made?.isOwn === true ? null : substitution,
    };
  }
}

/** Several files as one, as an address asks for them. A weight that a font lacks is left out; of scripts all are needed. */
function combine(address: string, parts: readonly string[], found: readonly OnShelf[]): OnShelf {
  const isStyle = parts.every((part) => part.endsWith(".css"));
  const there = found.flatMap((part, index) => (part.kind === "found" ? [{ ...part, address: parts[index]! }] : []));
  const [first] = there;
  const lacking = found.find((part) => part.kind === "lacking") ?? { kind: "lacking", library: null };
  if (first === undefined || (!isStyle && there.length < found.length)) return lacking;
  const texts = there.map((part) =>
    isStyle ? addressRelative(part.body.toString("utf8"), part.address) : part.body.toString("utf8"),
  );
  const listed = there.flatMap(({ substitution }) => (substitution === null ? [] : [substitution]));
  return {
    kind: "found",
    body: Buffer.from(texts.join(isStyle ? "\n" : ";\n")),
    contentType: first.contentType,
    substitution: {
      url: address.slice(0, 1000),
      asked: [...new Set(listed.map(({ asked }) => asked))].join(", "),
      served: [...new Set(listed.map(({ served }) => served))].join(", "),
      exact: listed.every(({ exact }) => exact),
    },
  };
}

/** A module as its host would hand it out: under one address only, with its imports made addresses. */
function makeModule(
  text: string,
  { all, choice, address }: { all: readonly ShelfPackage[]; choice: ShelfChoice; address: string },
): { text: string; isOwn: boolean } {
  const host = new URL(address, "https://host").hostname;
  const addressOf = ({ package: { name, version }, path }: ShelfChoice) =>
    moduleAddress(host, `${name}@${version}/${path}`);
  const own = addressOf(choice);
  if (address !== own) return { text: handOn(own, text), isOwn: false };
  const resolved = addressBareImports(text, (specifier) => {
    const [, library, path] = /^((?:@[^/]+\/)?[^/]+)(?:\/(.*))?$/.exec(specifier)!;
    const found = chooseOnShelf(all, { library: library!, range: null, path: path ?? null, isModule: true });
    return found ? addressOf(found) : moduleAddress(host, specifier);
  });
  return { text: resolved, isOwn: true };
}

const describe = (library: string, range: string | null) => (range === null ? library : `${library} ${range}`);

const nameOf = z.string().optional().catch(undefined);
const Manifest = z.object({
  name: z.string(),
  version: z.string(),
  jsdelivr: nameOf,
  unpkg: nameOf,
  browser: nameOf,
  main: nameOf,
  module: nameOf,
  style: nameOf,
  exports: z.unknown().optional(),
});

/** Every package on the shelf, those that others brought along included. */
export async function readShelfIndex(folder: string): Promise<ShelfPackage[]> {
  const found = new Map<string, ShelfPackage>();
  for (const group of await list(folder)) {
    const modules = join(group, "node_modules");
    for (const name of await listPackages(join(folder, modules))) {
      const read = await readPackage(folder, join(modules, name));
      const key = read && `${read.name} ${read.version}`;
      if (key !== null && !found.has(key)) found.set(key, read!);
    }
  }
  return [...found.values()];
}

async function readPackage(shelf: string, folder: string): Promise<ShelfPackage | null> {
  const text = await readFile(join(shelf, folder, "package.json"), "utf8").catch(() => null);
  const manifest = text === null ? null : Manifest.safeParse(JSON.parse(text)).data;
  if (!manifest) return null;
  const entries = await readdir(join(shelf, folder), { recursive: true, withFileTypes: true });
  const files = entries
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(join(shelf, folder).length + 1))
    .filter((path) => !path.startsWith("node_modules/"));
  const known = (path: string | null | undefined): string | null => {
    const plain = path?.replace(/^\.\//, "");
    return plain !== undefined && files.includes(plain) ? plain : null;
  };
  const module = known("index.tourney.mjs") ?? known(moduleOf(manifest.exports)) ?? known(manifest.module);
  return {
    name: manifest.name,
    version: manifest.version,
    folder,
    script: known(manifest.jsdelivr) ?? known(manifest.unpkg) ?? known(manifest.browser) ?? known(manifest.main),
    module,
    style: known(manifest.style),
    files,
  };
}

/** The module that a package's `exports` name for its main entry. */
function moduleOf(exported: unknown): string | null {
  if (typeof exported === "string") return exported;
  if (typeof exported !== "object" || exported === null) return null;
  const entries = exported as Record<string, unknown>;
  for (const key of [".", "browser", "module", "import", "default"]) {
    const found = key in entries ? moduleOf(entries[key]) : null;
    if (found !== null && /\.m?js$/.test(found)) return found;
  }
  return null;
}
