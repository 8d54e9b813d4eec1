import { maxSatisfying, rcompare, satisfies, valid, validRange, coerce } from "semver";
import type { LibraryRequest } from "./library-request.js";

/** One version of a package on the shelf, with what is needed to choose a file of it. */
export interface ShelfPackage {
  name: string;
  version: string;
  /** Its folder, relative to the shelf. */
  folder: string;
  /** The file that a plain script tag loads, the module entry and the style sheet, as the package names them. */
  script: string | null;
  module: string | null;
  style: string | null;
  files: readonly string[];
}

export interface ShelfChoice {
  package: ShelfPackage;
  path: string;
  /** Whether the version is one that was asked for. */
  exact: boolean;
}

/**
 * The file of the shelf that answers a request: of a version that was asked for if there is one, else of the nearest of the
 * same major, else of the newest.
 *
 * @returns null when the library, or the file in it, is not on the shelf.
 */
export function chooseOnShelf(shelf: readonly ShelfPackage[], request: LibraryRequest): ShelfChoice | null {
  const versions = shelf.filter(({ name }) => name.toLowerCase() === request.library.toLowerCase());
  for (const candidate of rank(versions, request.range)) {
    const path = choosePath(candidate, request);
    if (path !== null) return { package: candidate, path, exact: isAsked(candidate.version, request.range) };
  }
  return null;
}

function isAsked(version: string, range: string | null): boolean {
  if (range === null) return true;
  const wanted = validRange(range);
  return wanted !== null && satisfies(version, wanted, { includePrerelease: true });
}

function rank(versions: readonly ShelfPackage[], range: string | null): ShelfPackage[] {
  const newestFirst = versions.toSorted((a, b) => rcompare(a.version, b.version));
  if (range === null) return newestFirst;
  const wanted = validRange(range);
  const best =
    wanted &&
    maxSatisfying(
      newestFirst.map(({ version }) => version),
      wanted,
    );
  const asked = coerce(range);
  const distance = ({ version }: ShelfPackage): number => {
    if (version === best) return -1;
    const [a, b] = [coerce(version), asked];
    if (!a || !b) return Infinity;
    // Of two in the same major the nearer minor; a line before 1.0 breaks with every minor and still is nearest by it.
    return Math.abs(a.major - b.major) * 1e6 + Math.abs(a.minor - b.minor) * 1e3 + Math.abs(a.patch - b.patch);
  };
  return newestFirst.filter(({ version }) => valid(version)).sort((a, b) => distance(a) - distance(b));
}

function choosePath({ files, script, module, style }: ShelfPackage, { path, isModule }: LibraryRequest): string | null {
  if (path === null) return isModule ? (module ?? script) : (script ?? module ?? style);
  const wanted = path.replace(/^\*\*\//, "").replace(/\/$/, "");
  const known = new Set(files);
  const made = `${wanted.replace(/\.js$/, "")}.tourney.mjs`;
  if (isModule && known.has(made)) return made;
  for (const candidate of [wanted, `${wanted}.js`, `${wanted}.mjs`, `${wanted}/index.js`])
    if (known.has(candidate)) return candidate;
  return findByName(files, wanted, path.startsWith("**/"));
}

/** A file that lies elsewhere in the package, or that is there with or without its `.min`. */
function findByName(files: readonly string[], wanted: string, anywhere: boolean): string | null {
  const swapped = wanted.includes(".min.") ? wanted.replace(".min.", ".") : wanted.replace(/\.(js|css)$/, ".min.$1");
  for (const name of [wanted, swapped]) {
    if (files.includes(name)) return name;
    if (!anywhere) continue;
    const base = name.slice(name.lastIndexOf("/") + 1);
    const found = files
      .filter((file) => file.endsWith(`/${name}`) || file.endsWith(`/${base}`) || file === base)
      .toSorted((a, b) => Number(b.endsWith(`/${name}`)) - Number(a.endsWith(`/${name}`)) || a.length - b.length);
    if (found[0] !== undefined) return found[0];
  }
  return null;
}
