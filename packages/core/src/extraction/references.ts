import type { MissingReference, ReferenceKind, RemoteReference } from "../contract/index.js";
import { scanScript, type ScriptParts, scanStyles } from "./script-parts.js";
import { keepLast } from "./keeping.js";
import { type HtmlAttribute, type HtmlToken, tokenizeHtml } from "./html-tokens.js";

/** A place where a file asks for another one. */
export interface Reference {
  target: string;
  kind: ReferenceKind;
  start: number;
  end: number;
}

type Language = "html" | "css" | "js";

/** What a browser loads because of an element's attribute; addresses of links that a person would click are not among them. */
const LOADING: Readonly<Record<string, readonly [attribute: string, kind: ReferenceKind][]>> = {
  script: [["src", "script"]],
  img: [
    ["src", "image"],
    ["srcset", "image"],
  ],
  source: [
    ["src", "other"],
    ["srcset", "image"],
  ],
  audio: [["src", "sound"]],
  video: [
    ["src", "video"],
    ["poster", "image"],
  ],
  track: [["src", "data"]],
  iframe: [["src", "page"]],
  embed: [["src", "other"]],
  object: [["data", "other"]],
  image: [
    ["href", "image"],
    ["xlink:href", "image"],
  ],
  feimage: [
    ["href", "image"],
    ["xlink:href", "image"],
  ],
  use: [
    ["href", "image"],
    ["xlink:href", "image"],
  ],
  input: [["src", "image"]],
};
const LINK_KINDS: readonly [rel: RegExp, kind: ReferenceKind][] = [
  [/stylesheet/i, "style"],
  [/icon/i, "image"],
  [/modulepreload/i, "module"],
  [/preload|prefetch/i, "other"],
  [/manifest/i, "data"],
];

/** Everything a file asks a browser to load, in order. Linear in its length. */
export function listReferences(source: string, language: Language): readonly Reference[] {
  if (language === "css") return listInStyles(source, 0);
  return language === "js" ? listInScript(source, 0) : listInPage(source);
}

const listInPage = keepLast((source): readonly Reference[] => {
  const found: Reference[] = [];
  // One by one: a list may be longer than what can be handed over as arguments.
  const add = (references: readonly Reference[]) => {
    for (const reference of references) found.push(reference);
  };
  let script: "module" | "importmap" | "classic" | "data" = "classic";
  for (const token of tokenizeHtml(source).tokens) {
    if (token.type === "start") {
      if (token.name === "script") script = scriptType(token.attributes);
      add(listInTag(token));
    } else if (token.type === "style") add(listInStyles(token.text, token.start));
    else if (token.type === "script") {
      if (script === "importmap") add(listInImportMap(token.text, token.start));
      else if (script !== "data") add(listInScript(token.text, token.start));
    }
  }
  return found;
});

function scriptType(attributes: readonly HtmlAttribute[]): "module" | "importmap" | "classic" | "data" {
  const type = attributes.find(({ name }) => name === "type")?.value.toLowerCase() ?? "";
  if (type === "module" || type === "importmap") return type;
  return type === "" || /javascript|babel|jsx|typescript/.test(type) ? "classic" : "data";
}

function listInTag(token: Extract<HtmlToken, { type: "start" }>): Reference[] {
  const { name, attributes } = token;
  if (attributes.length === 0) return [];
  const found: Reference[] = [];
  const value = (wanted: string) => attributes.find((attribute) => attribute.name === wanted);
  if (name === "link") {
    const rel = value("rel")?.value ?? "";
    const kind = LINK_KINDS.find(([pattern]) => pattern.test(rel))?.[1];
    const href = value("href");
    if (kind && href && !/preconnect|dns-prefetch|canonical/i.test(rel)) {
      const isFont = kind === "style" && /\/css2?\?family=/i.test(href.value);
      found.push({ target: href.value.trim(), kind: isFont ? "font" : kind, start: href.start, end: href.end });
    }
  }
  for (const [wanted, kind] of LOADING[name] ?? []) {
    const attribute = value(wanted);
    if (!attribute) continue;
    const targets =
      wanted === "srcset"
        ? attribute.value.split(",").map((part) => part.trim().split(/\s+/)[0]!)
        : [attribute.value.trim()];
    for (const target of targets)
      found.push({
        target,
        kind: kind === "other" ? kindByExtension(target) : kind,
        start: attribute.start,
        end: attribute.end,
      });
  }
  const style = value("style");
  if (style)
    found.push(
      ...listInStyles(style.value, 0).map((reference) => ({ ...reference, start: style.start, end: style.end })),
    );
  return found;
}

const KIND_ENDINGS: readonly [endings: string, kind: ReferenceKind][] = [
  ["png jpg jpeg gif webp avif svg ico bmp", "image"],
  ["mp3 ogg wav m4a aac flac opus", "sound"],
  ["mp4 webm mov ogv", "video"],
  ["woff woff2 ttf otf eot", "font"],
  ["js cjs mjs", "script"],
  ["css", "style"],
  ["htm html", "page"],
  ["json csv txt xml glsl gltf glb obj wasm", "data"],
];
const BY_EXTENSION = new Map(
  KIND_ENDINGS.flatMap(([endings, kind]) => endings.split(" ").map((ending) => [ending, kind] as const)),
);

function kindByExtension(target: string): ReferenceKind {
  const end = target.search(/[?#]/);
  const path = end === -1 ? target : target.slice(0, end);
  const dot = path.lastIndexOf(".");
  return (dot === -1 ? undefined : BY_EXTENSION.get(path.slice(dot + 1).toLowerCase())) ?? "other";
}

function listInStyles(css: string, offset: number): Reference[] {
  const bare = blankComments(css, scanStyles(css));
  const found: Reference[] = [];
  const add = (match: RegExpExecArray, target: string, kind: ReferenceKind) =>
    found.push({ target, kind, start: offset + match.index, end: offset + match.index + match[0].length });
  for (const match of bare.matchAll(/@import\s+(?:url\(\s*)?["']?([^"')\s;]+)/gi))
    add(match, match[1]!, isFontSheet(match[1]!) ? "font" : "style");
  for (const match of bare.matchAll(
    /(?<!@import\s{1,4})url\(\s*(?:"([^"\n]*)"\s*|'([^'\n]*)'\s*|([^()"'\s]+)\s*)?\)/gi,
  )) {
    const target = match[1] ?? match[2] ?? match[3] ?? "";
    add(match, target, kindByExtension(target));
  }
  return found.sort((a, b) => a.start - b.start);
}

const isFontSheet = (address: string) => /\/css2?\?family=/i.test(address);

const LOADING_CALLS: readonly [pattern: RegExp, kind: ReferenceKind | null][] = [
  [/\bimport\s*(?:(?!\s)(?:(?!\bimport\b)[\w$*{}\s,]){1,500}?\bfrom\s*)?["']([^"'\n]+)["']/g, "module"],
  [/\bexport\s+(?:\*|\{[^{}]{0,500}\})(?:\s+as\s+\w+)?\s*from\s*["']([^"'\n]+)["']/g, "module"],
  [/\bimport\(\s*["'`]([^"'`\n]+)["'`]\s*\)/g, "module"],
  [/\bimportScripts\(\s*["']([^"'\n]+)["']/g, "script"],
  [/\bnew\s+(?:Shared)?Worker\(\s*["']([^"'\n]+)["']/g, "script"],
  [/\bfetch\(\s*["'`]([^"'`\n]+)["'`]/g, "data"],
  [/\.open\(\s*["'](?:GET|POST)["']\s*,\s*["']([^"'\n]+)["']/g, "data"],
  [/\bnew\s+(?:WebSocket|EventSource)\(\s*["'`]([^"'`\n]+)["'`]/g, "data"],
  [/\bnew\s+Audio\(\s*["'`]([^"'`\n]+)["'`]/g, "sound"],
  [/\.(?:src|href)\s*=\s*["'`]([^"'`\n]+)["'`]/g, null],
  [/\.load(?:Image|Sound|Font|Model|JSON)?\(\s*["'`]([^"'`\n]+\.\w{2,5})["'`]/g, null],
  [/\.setAttribute\(\s*["'](?:src|xlink:href)["']\s*,\s*["'`]([^"'`\n]+)["'`]/g, null],
];

/** As in `.src="a"`: a page may have two hundred thousand scripts that are shorter. */
const SHORTEST_LOADING = 8;

function listInScript(js: string, offset: number): Reference[] {
  if (js.length < SHORTEST_LOADING) return [];
  const bare = blankComments(js, scanScript(js));
  const found: Reference[] = [];
  for (const [pattern, known] of LOADING_CALLS)
    for (const match of bare.matchAll(pattern)) {
      const target = match[1]!;
      const kind = known ?? kindByExtension(target);
      if (kind === "other" && !/\.\w{2,5}(?:[?#]|$)/.test(target)) continue;
      found.push({ target, kind, start: offset + match.index, end: offset + match.index + match[0].length });
    }
  return found.sort((a, b) => a.start - b.start);
}

/** Comments replaced by spaces, so that what is left stands where it stood. */
function blankComments(text: string, parts: ScriptParts): string {
  const pieces: string[] = [];
  let last = 0;
  let lineFeed = text.indexOf("\n");
  for (let index = 0; index < parts.length; index++) {
    if (!parts.isComment(index)) continue;
    const start = parts.startOf(index);
    const end = parts.endOf(index);
    pieces.push(text.slice(last, start));
    while (lineFeed !== -1 && lineFeed < start) lineFeed = text.indexOf("\n", lineFeed + 1);
    const isLine = lineFeed === -1 || lineFeed >= end;
    pieces.push(isLine ? " ".repeat(end - start) : text.slice(start, end).replace(/[^\n]/g, " "));
    last = end;
  }
  pieces.push(text.slice(last));
  return pieces.join("");
}

function listInImportMap(json: string, offset: number): Reference[] {
  return [...json.matchAll(/"([^"\n]+)"\s*:\s*"([^"\n]+)"/g)].map((match) => ({
    target: match[2]!,
    kind: "module" as const,
    start: offset + match.index,
    end: offset + match.index + match[0].length,
  }));
}

/** The names that a page's import map resolves. */
function listMapped(html: string): string[] {
  const opening = /<script[^>]{0,200}type\s*=\s*["']importmap["'][^>]{0,200}>/i.exec(html);
  if (opening === null) return [];
  const from = opening.index + opening[0].length;
  const length = html.slice(from).search(/<\/script/i);
  const map = length === -1 ? "" : html.slice(from, from + length);
  return [...map.matchAll(/"([^"\n]+)"\s*:\s*"[^"\n]+"/g)].map((match) => match[1]!);
}

export interface ArtifactFile {
  path: string;
  text: string;
}

/** How a file is read, by its ending or, for want of one, by how it begins; null for what asks for nothing. */
export const languageOf = ({ path, text }: ArtifactFile): Language | null => {
  const extension = /\.([a-z]+)$/i.exec(path)?.[1]?.toLowerCase() ?? "";
  if (["html", "htm", "xhtml", "svg", "vue"].includes(extension)) return "html";
  if (extension === "css") return "css";
  if (/^(?:[mc]?jsx?|tsx?)$/.test(extension)) return "js";
  return /^\s*</.test(text) ? "html" : null;
};

const INLINE = /^(?:data:|blob:|javascript:|about:|mailto:|tel:|#|$)/i;
const REMOTE = /^(?:(?:https?|wss?|ftp):)?\/\//i;

/** Sorts what an artifact's files ask for into what is missing and what comes from public hosts; each once a file. */
export function findReferences(files: readonly ArtifactFile[]): {
  missing: MissingReference[];
  remote: RemoteReference[];
} {
  const brought = new Set(files.map(({ path }) => path.toLowerCase()));
  const mapped = files.flatMap(({ text, path }) => (/\.html?$/i.test(path) ? listMapped(text) : []));
  const missing: MissingReference[] = [];
  const remote: RemoteReference[] = [];
  for (const file of files) {
    const language = languageOf(file);
    if (language === null) continue;
    const seen = new Set<string>();
    for (const { target, kind, start, end } of listReferences(file.text, language)) {
      if (seen.has(target)) continue;
      seen.add(target);
      // An address with a template's hole in it is not known before the page runs.
      if (INLINE.test(target) || target.includes("${")) continue;
      const place = { file: file.path, start, end };
      if (REMOTE.test(target)) remote.push({ url: target, kind, ...tellLibrary(target), ...place });
      else if (!isBrought(target, kind, { from: file.path, brought, mapped }))
        missing.push({ path: target, kind, ...place });
    }
  }
  return { missing, remote };
}

function isBrought(
  target: string,
  kind: ReferenceKind,
  { from, brought, mapped }: { from: string; brought: ReadonlySet<string>; mapped: readonly string[] },
): boolean {
  if (kind === "module" && !/^[./]/.test(target))
    return mapped.some((name) => name === target || (name.endsWith("/") && target.startsWith(name)));
  const path = resolvePath(from, target.split(/[?#]/, 1)[0]!).toLowerCase();
  const endings = kind === "module" ? ["", ".js", ".jsx", ".ts", ".tsx", ".vue", "/index.js"] : [""];
  return endings.some((ending) => brought.has(path + ending));
}

/** A path relative to a file, as a path of the artifact. */
export function resolvePath(from: string, target: string): string {
  const parts = target.startsWith("/") ? [] : from.split("/").slice(0, -1);
  for (const part of decodePath(target).split("/")) {
    if (part === "..") parts.pop();
    else if (part !== "." && part !== "") parts.push(part);
  }
  return parts.join("/");
}

function decodePath(target: string): string {
  try {
    return decodeURIComponent(target);
  } catch {
    return target;
  }
}

const VERSION = String.raw`v?(\d+(?:\.\d+)*(?:-[\w.]+)?)`;
const ADDRESS_FORMS: readonly RegExp[] = [
  // …/npm/name@1.2.3/…, …/name@1.2.3, …/npm:name@1.2.3
  new RegExp(`[/:]((?:@[\\w.-]+/)?[\\w.-]+)@${VERSION}`, "i"),
  // …/ajax/libs/name/1.2.3/…, …/libs/name/1.2.3/…
  new RegExp(`/libs?/([\\w.-]+)/${VERSION}/`, "i"),
  // …/npm/name/…
  /\/npm[/:]((?:@[\w.-]+\/)?[\w.-]+)(?=[/?#]|$)(?:)/i,
  // …/name-1.2.3.min.js, …/name.v7.min.js
  new RegExp(
    `/([a-z][\\w]*(?:[.-][a-z]\\w*)*?)[.-]${VERSION}(?:\\.(?:slim|min|esm|module|umd|prod|global))*\\.m?js(?:[?#]|$)`,
    "i",
  ),
  new RegExp(`/([a-z][\\w-]*)/${VERSION}/[\\w./-]+\\.(?:m?js|css)(?:[?#]|$)`, "i"),
];

/** The library and version that a public address names, as far as its form tells. */
export function tellLibrary(url: string): { library: string | null; version: string | null } {
  for (const form of ADDRESS_FORMS) {
    const match = form.exec(url);
    if (match) return { library: tidy(match[1]!), version: match[2] ?? null };
  }
  if (/\/css2?\?family=/i.test(url)) return { library: null, version: null };
  const [, host = "", path = ""] = /^(?:\w+:)?\/\/([^/?#]+)([^?#]*)/.exec(url) ?? [];
  const file =
    /\/([a-z][\w-]*?)(?:\.(?:production|development|slim|min|esm|module|umd|prod|global|browser))*\.(?:m?js|css)$/i.exec(
      path,
    )?.[1];
  if (file !== undefined && !/^(?:index|main|app|script|bundle|all|core|build|dist|style|styles)$/i.test(file))
    return { library: tidy(file), version: null };
  // cdn.name.tld serves the one library that it is called after; package hosts take the name as the first part of the path.
  const label = /^(?:cdn|unpkg|js|static)\.([a-z][\w-]+)\.[a-z.]+$/i.exec(host)?.[1];
  const first = /^\/((?:@[\w.-]+\/)?[a-z][\w.-]*)/i.exec(path)?.[1];
  if (label !== undefined && path.replace(/\/$/, "").replace(/^\/\d[\d.]*$/, "") === "")
    return { library: tidy(label), version: /^\/(\d[\d.]*)/.exec(path)?.[1] ?? null };
  return { library: first === undefined ? null : tidy(first.replace(/^(?:npm|gh|v\d+|stable)\//, "")), version: null };
}

const tidy = (name: string): string =>
  name
    .toLowerCase()
    .replace(/(?:\.min)?\.(?:m?js|css)$/, "")
    .replace(/\.$/, "");
