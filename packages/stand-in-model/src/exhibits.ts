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

/** What the models answer to one prompt. */
export interface Folder {
  /** Pages that any model may write. A grade without a page of its own has the next better one's. */
  byGrade: Record<Grade, Exhibit>;
  /** Pages that are one model's own, by its id: `campion-7`, and `campion-7.mended` or `campion-7.unhinted` where those differ. */
  byModel: ReadonlyMap<string, Exhibit>;
}

export type Exhibits = ReadonlyMap<string, Folder>;

/** Loads all pages once, by folder. */
export function loadExhibits(): Exhibits {
  const folders = readdirSync(FOLDER, { withFileTypes: true }).filter((item) => item.isDirectory());
  return new Map(
    folders.map(({ name }) => {
      const read = (page: string, extension: string) => {
        const path = join(FOLDER, name, `${page}.${extension}`);
        return existsSync(path) ? readFileSync(path, "utf8") : null;
      };
      const load = (page: string): Exhibit | null => {
        const text = read(page, "html") ?? read(page, "svg");
        return text === null ? null : { page: text, css: read(page, "css"), js: read(page, "js") };
      };
      const pages: Partial<Record<Grade, Exhibit>> = {};
      let last: Exhibit | null = null;
      for (const grade of GRADES) {
        last = load(grade) ?? last;
        if (last) pages[grade] = last;
      }
      const names = readdirSync(join(FOLDER, name)).map((file) => file.replace(/\.(?:html|svg|css|js)$/, ""));
      const own = [...new Set(names)].filter((page) => !(GRADES as readonly string[]).includes(page));
      const byModel = new Map(own.map((page) => [page, load(page)!]));
      return [name, { byGrade: pages as Record<Grade, Exhibit>, byModel }];
    }),
  );
}
