import type { RemoteReference, MissingReference, RuleBreak, Rules } from "../contract/index.js";
import type { ArtifactFile } from "./references.js";

/** Frameworks by the package names that their parts go by. */
const FRAMEWORKS =
  /^(?:react|react-dom|preact|vue|svelte|solid-js|lit|lit-html|lit-element|alpinejs|angular|@angular\/[\w-]+|ember|backbone|mithril|htm|petite-vue|inferno|qwik|stimulus|@hotwired\/[\w-]+|next|nuxt|knockout|riot|htmx(?:\.org)?)(?:\/|$)/i;
const FRAMEWORK_CALLS: readonly [pattern: RegExp, name: string][] = [
  [/\bReactDOM\s*\.|\bReact\.createElement\b|\bcreateRoot\(/, "react"],
  [/\bVue\.createApp\b|\bnew Vue\(/, "vue"],
  [/\bpreact\.h\b/, "preact"],
  [/\bx-data\s*=\s*["']/, "alpinejs"],
  [/\bng-app\b|\bangular\.module\(/, "angular"],
];
/** The banner that minified builds keep: name and version in a comment that starts with an exclamation mark. */
const BANNER =
  /\/\*!\s*(?:\*\s*)?([A-Za-z][\w.-]{1,40}(?: [A-Z][\w.]*)?)\s+(?:JavaScript Library\s+)?v?(\d+\.\d+(?:\.\d+)?)/g;

const BUILT_IN = /^(?:data|blob|node):/;
const normalize = (name: string) =>
  name
    .toLowerCase()
    .replace(/(?:\.js|js)$/, "")
    .replace(/[^a-z0-9@/]/g, "");

interface Used {
  library: string;
  message: string;
  file: string;
  start: number;
  end: number;
}

/** The prompt's rules that an artifact does not keep, each with where. */
export function findRuleBreaks(
  files: readonly ArtifactFile[],
  {
    entry,
    remote,
    missing,
    insertedParts,
    kind,
  }: {
    entry: string;
    remote: readonly RemoteReference[];
    missing: readonly MissingReference[];
    insertedParts: number;
    kind: string;
  },
  rules: Rules,
): RuleBreak[] {
  const breaks: RuleBreak[] = [];
  if (rules.singleFile) breaks.push(...findFurtherFiles(files, entry, insertedParts));
  const used = listLibraries(files, remote, missing, kind);
  const { libraries } = rules;
  const listed = typeof libraries === "string" ? null : Array.isArray(libraries) ? libraries : libraries.use;
  const isAllowed = (library: string) =>
    listed === null ? libraries === "allowed" : listed.some((allowed) => sameLibrary(library, allowed));
  for (const { library, message, ...place } of used) {
    if (!isAllowed(library)) {
      const reason = libraries === "forbidden" ? "libraries are forbidden" : "it is not one of those allowed";
      breaks.push({ rule: "libraries", message: `${message}, but ${reason}`, ...place });
    }
  }
  if (typeof libraries === "object" && !Array.isArray(libraries)) {
    const at = { file: entry, start: 0, end: 0 };
    for (const wanted of libraries.use)
      if (!used.some(({ library }) => sameLibrary(library, wanted)))
        breaks.push({ rule: "libraries", message: `it does not use ${wanted}, which was asked for`, ...at });
  }
  if (rules.framework === "forbidden") breaks.push(...findFrameworks(files, used, kind, entry));
  breaks.push(...findWrongLanguage(files, entry, kind, rules));
  return breaks;
}

function sameLibrary(library: string, allowed: string): boolean {
  const [a, b] = [normalize(library), normalize(allowed.replace(/@[\d.^~x]+$/, ""))];
  return a === b || a.startsWith(`${b}/`);
}

function findFurtherFiles(files: readonly ArtifactFile[], entry: string, insertedParts: number): RuleBreak[] {
  const further = files
    .filter(({ path }) => path !== entry)
    .map(({ path, text }) => ({
      rule: "singleFile" as const,
      message: `${path} is a file of its own, but one file was asked for`,
      file: path,
      start: 0,
      end: text.length,
    }));
  if (insertedParts === 0) return further;
  const message = `${insertedParts} ${insertedParts === 1 ? "part" : "parts"} came apart from the page, but one file was asked for`;
  return [...further, { rule: "singleFile", message, file: entry, start: 0, end: 0 }];
}

function listLibraries(
  files: readonly ArtifactFile[],
  remote: readonly RemoteReference[],
  missing: readonly MissingReference[],
  kind: string,
): Used[] {
  const fromHosts = remote
    .filter(({ kind: what }) => what === "script" || what === "style" || what === "module")
    .map(({ url, library, version, file, start, end }) => ({
      library: library ?? url,
      message: `it loads ${library ?? url}${version === null ? "" : ` ${version}`} from a public host`,
      file,
      start,
      end,
    }));
  const modules = missing
    .filter(({ kind: what, path }) => what === "module" && !/^[./]/.test(path) && !BUILT_IN.test(path))
    // A component is wrapped with its own framework by the app, so importing it is not a library of its own choice.
    .filter(({ path }) => kind !== "component" || !/^(?:react|react-dom|vue|preact)(?:\/|$)/.test(path))
    .map(({ path, file, start, end }) => ({ library: path, message: `it imports ${path}`, file, start, end }));
  const inlined = files.flatMap(({ path, text }) =>
    [...text.matchAll(BANNER)].map((match) => ({
      library: match[1]!.trim(),
      message: `it holds a copy of ${match[1]!.trim()} ${match[2]!}`,
      file: path,
      start: match.index,
      end: match.index + match[0].length,
    })),
  );
  return [...fromHosts, ...modules, ...inlined];
}

function findFrameworks(
  files: readonly ArtifactFile[],
  used: readonly Used[],
  kind: string,
  entry: string,
): RuleBreak[] {
  const loaded = used
    .filter(({ library }) => FRAMEWORKS.test(library))
    .map(({ library, file, start, end }) => ({
      rule: "framework" as const,
      message: `it uses ${library}, but frameworks are forbidden`,
      file,
      start,
      end,
    }));
  if (loaded.length > 0) return loaded;
  if (kind === "component") {
    const name = /\.vue$/i.test(entry) ? "vue" : "react";
    return [
      {
        rule: "framework",
        message: `it is a component of ${name}, but frameworks are forbidden`,
        file: entry,
        start: 0,
        end: 0,
      },
    ];
  }
  return files.flatMap(({ path, text }) =>
    FRAMEWORK_CALLS.flatMap(([pattern, name]) => {
      const match = pattern.exec(text);
      return match
        ? [
            {
              rule: "framework" as const,
              message: `it uses ${name}, but frameworks are forbidden`,
              file: path,
              start: match.index,
              end: match.index + match[0].length,
            },
          ]
        : [];
    }),
  );
}

function findWrongLanguage(
  files: readonly ArtifactFile[],
  entry: string,
  kind: string,
  { language }: Rules,
): RuleBreak[] {
  const whole = files.find(({ path }) => path === entry);
  const at = { file: entry, start: 0, end: whole?.text.length ?? 0 };
  const isSvg = kind === "svg";
  if (language === "svg" && !isSvg)
    return [{ rule: "language", message: "an SVG file was asked for, and this is a page", ...at }];
  if (language === "html" && isSvg)
    return [{ rule: "language", message: "an HTML page was asked for, and this is an SVG file", ...at }];
  if (language === "javascript") {
    const typed = files.find(({ path }) => /\.tsx?$/i.test(path));
    if (typed)
      return [
        {
          rule: "language",
          message: "JavaScript was asked for, and this is TypeScript",
          file: typed.path,
          start: 0,
          end: typed.text.length,
        },
      ];
  }
  return [];
}
