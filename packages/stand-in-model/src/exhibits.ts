import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { GRADES, type Grade } from "./models.js";

/** A hand-written page, with further files where it is not a single one. */
export interface Exhibit {
  page: string;
  css: string | null;
  js: string | null;
}

const FOLDER = join(import.meta.dirname, "..", "exhibits");

/** The titles by which a prompt of the demo scenario is recognised, and their folders. */
const TITLES: readonly [pattern: RegExp, folder: string][] = [
  [/\block keeper\b/i, "lock-keeper"],
  [/\bfresnel\b|\bsweep\b/i, "sweep"],
  [/\bpuffin\b/i, "puffin-in-oilskins"],
  [/\bferry board\b|\bferry\b/i, "ferry-board"],
];

/** The folder of the exhibit that a request asks for; `other` for everything that is not in the scenario. */
export const findFolder = (request: string): string =>
  TITLES.find(([pattern]) => pattern.test(request))?.[1] ?? "other";

/** Loads all pages once: folder → grade → exhibit. */
export function loadExhibits(): Map<string, Record<Grade, Exhibit>> {
  const folders = readdirSync(FOLDER, { withFileTypes: true }).filter((item) => item.isDirectory());
  return new Map(
    folders.map(({ name }) => {
      const read = (grade: Grade, extension: string) => {
        const path = join(FOLDER, name, `${grade}.${extension}`);
        return existsSync(path) ? readFileSync(path, "utf8") : null;
      };
      const pages = GRADES.map(
        (grade) => [grade, { page: read(grade, "html")!, css: read(grade, "css"), js: read(grade, "js") }] as const,
      );
      return [name, Object.fromEntries(pages) as Record<Grade, Exhibit>];
    }),
  );
}
