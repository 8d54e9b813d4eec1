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

/** The words by which a prompt of the demo scenario is recognised, and their folders; the first that matches counts. */
const TITLES: readonly [pattern: RegExp, folder: string][] = [
  [/\block keeper\b/i, "lock-keeper"],
  [/\blamp watch\b/i, "lamp-watch"],
  [/\bherring drift\b/i, "herring-drift"],
  [/\bfresnel\b|\bsweep\b/i, "sweep"],
  [/\bbowline\b/i, "bowline"],
  [/\btide pool\b/i, "tide-pool"],
  [/\bpuffin\b/i, "puffin-in-oilskins"],
  [/\blightship\b[^]*\b(?:animate|heave|move)\b|\b(?:animate|heave)\b[^]*\blightship\b/i, "lightship-at-sea"],
  [/\blightship\b/i, "lightship-cross-section"],
  [/\bsignal flags\b/i, "signal-flags"],
  [/\bferry board\b|\bferry\b/i, "ferry-board"],
  [/\bwreck log\b/i, "wreck-log"],
  [/\btide table\b/i, "tide-table"],
];

/** The folder of the exhibit that a request asks for; `other` for everything that is not in the scenario. */
export const findFolder = (request: string): string =>
  TITLES.find(([pattern]) => pattern.test(request))?.[1] ?? "other";

/** What a wording gives away beyond the task itself, by folder: the hint that its variant leaves out. */
const HINTS: Readonly<Record<string, RegExp>> = {
  "lock-keeper": /\barrow keys\b|\bleft and right\b/i,
  sweep: /\bfresnel\b|\blens\b/i,
};

/** Whether a request leaves out the hint that its other wording has. */
export const lacksHint = (request: string): boolean => HINTS[findFolder(request)]?.test(request) === false;

/** Loads all pages once: folder → grade → exhibit. A grade without a page of its own takes the next better one's. */
export function loadExhibits(): Map<string, Record<Grade, Exhibit>> {
  const folders = readdirSync(FOLDER, { withFileTypes: true }).filter((item) => item.isDirectory());
  return new Map(
    folders.map(({ name }) => {
      const read = (grade: Grade, extension: string) => {
        const path = join(FOLDER, name, `${grade}.${extension}`);
        return existsSync(path) ? readFileSync(path, "utf8") : null;
      };
      const pages: Partial<Record<Grade, Exhibit>> = {};
      let last: Exhibit | null = null;
      for (const grade of GRADES) {
        const page = read(grade, "html");
        last = page === null ? last : { page, css: read(grade, "css"), js: read(grade, "js") };
        if (last) pages[grade] = last;
      }
      return [name, pages as Record<Grade, Exhibit>];
    }),
  );
}
