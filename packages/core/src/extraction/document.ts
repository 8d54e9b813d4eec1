import { scanScript, scanStyles } from "./code-state.js";
import { type HtmlToken, tokenizeHtml, VOID_ELEMENTS } from "./html-tokens.js";

/** What a block of code is, as far as a browser is concerned. */
export type BlockKind = "document" | "fragment" | "svg" | "css" | "js" | "component" | "data" | "other";

const LANGUAGES: Readonly<Record<string, BlockKind>> = {
  css: "css",
  js: "js",
  javascript: "js",
  mjs: "js",
  ecmascript: "js",
  jsx: "component",
  tsx: "component",
  vue: "component",
  svelte: "other",
  json: "data",
  csv: "data",
  glsl: "data",
  wgsl: "data",
};
const EXTENSIONS: Readonly<Record<string, BlockKind>> = {
  ...LANGUAGES,
  ts: "js",
  txt: "data",
  svg: "svg",
  html: "fragment",
  htm: "fragment",
};
const HTML_LANGUAGES = new Set(["html", "htm", "xhtml", "html5", "xml", ""]);
const SHELL_LANGUAGES = new Set(["bash", "sh", "shell", "zsh", "console", "terminal", "powershell"]);

const COMMENTS = String.raw`(?:\s|<!--(?:[^-]|-(?!->))*-->)*`;
const DOCUMENT = new RegExp(`^${COMMENTS}(?:<!doctype\\s+html|<html[\\s>]|<head[\\s>]|<body[\\s>])`, "i");
const DRAWING = new RegExp(`^(?:\\s*<\\?xml[^>]*\\?>)?${COMMENTS}(?:<!doctype\\s+svg[^>]*>\\s*)?<svg[\\s>]`, "i");
const HEAD_LENGTH = 4000;

export const isShell = (language: string): boolean => SHELL_LANGUAGES.has(language);

/** Tells a block by its content first, since fences are often mislabelled, and by its name or label second. */
export function classifyBlock({
  language,
  content,
  name = null,
}: {
  language: string;
  content: string;
  name?: string | null;
}): BlockKind {
  const head = content.slice(0, HEAD_LENGTH);
  if (isDiff(language, head) || isShell(language)) return "other";
  if (DOCUMENT.test(head)) return "document";
  if (DRAWING.test(head)) return "svg";
  const extension = name === null ? undefined : /\.([a-z]+)$/i.exec(name)?.[1]?.toLowerCase();
  const known = (extension === undefined ? undefined : EXTENSIONS[extension]) ?? LANGUAGES[language];
  if (known === "js" && isComponentSource(content)) return "component";
  if (known !== undefined && known !== "fragment" && known !== "svg") return known;
  if (["ts", "typescript"].includes(language)) return isComponentSource(content) ? "component" : "js";
  if (HTML_LANGUAGES.has(language) || known === "fragment") {
    if (/^\s*<template[\s>]/i.test(head) && /<script[\s>]/i.test(content) && language !== "html") return "component";
    if (/^\s*<(?:!--|[a-z][a-z0-9-]*[\s>/])/i.test(head)) return "fragment";
    if (language === "" && isComponentSource(content)) return "component";
    if (language === "" && /^\s*(?:@import|:root|[.#]?[\w-]+[^;{}()=\n]{0,80}\{\s*[\w-]+\s*:)/.test(head)) return "css";
    if (language === "" && /^\s*(?:["']use strict["']|(?:const|let|var|function|class|import)\s)/.test(head))
      return "js";
  }
  return "other";
}

function isDiff(language: string, head: string): boolean {
  if (["diff", "patch"].includes(language)) return true;
  if (/^(?:--- \S|\+\+\+ \S|@@ )/m.test(head.slice(0, 400))) return true;
  const lines = head.split("\n").filter((line) => line.trim() !== "");
  const changed = lines.filter((line) => /^[+-](?![+-])/.test(line)).length;
  return lines.length > 2 && changed / lines.length > 0.6;
}

/** A module that exports a component written with markup in the script. */
function isComponentSource(content: string): boolean {
  const hasMarkup = /(?:return|=>|\(|&&|\?|:)\s*(?:\(\s*)?<(?:[A-Za-z][\w.]*[\s/>]|>)/.test(content);
  return hasMarkup && /\bexport\b|\bfrom\s+["']react["']|\bReact\b|\bimport\s/.test(content);
}

/** What is unfinished about a block, judged by itself, or null when it is whole. */
export function findCut(content: string, kind: BlockKind): string | null {
  const text = content.trimEnd();
  switch (kind) {
    case "svg":
      return /<\/svg\s*>(?:\s|<!--(?:[^-]|-(?!->))*-->)*$/i.test(text.slice(-2000)) || /<\/svg\s*>/i.test(text)
        ? null
        : "its drawing is not closed";
    case "document":
    case "fragment":
      // As it is, so that it is the text that is read again when it has become a file.
      return findCutInDocument(content, kind);
    case "js":
      return describeState(scanScript(text));
    case "css":
      return describeState(scanStyles(text));
    case "component":
      return /^\s*<(?:template|script)/i.test(text) ? findCutInDocument(content, "fragment") : null;
    case "data":
    case "other":
      return null;
  }
}

function describeState({ openBrackets, within }: ReturnType<typeof scanScript>): string | null {
  if (within === "template" || within === "comment") return `it ends within a ${within}`;
  return openBrackets > 0 ? `${openBrackets} brackets are left open` : null;
}

/** Elements whose end tag may be left out (HTML Living Standard, 13.1.2.4), and those the parser closes by itself. */
const MAY_STAY_OPEN = new Set(
  "html head body p li dt dd option optgroup tr td th tbody thead tfoot colgroup caption rp rt".split(" "),
);

function findCutInDocument(text: string, kind: "document" | "fragment"): string | null {
  const { tokens, endsInside } = tokenizeHtml(text);
  const closesDocument = tokens.some((token) => token.type === "end" && token.name === "html");
  if (endsInside && !closesDocument) return "it ends within a tag or comment";
  const open = listOpenElements(tokens);
  const raw = open.find((name) => name === "script" || name === "style");
  if (raw !== undefined && isLastStart(tokens, raw)) return `its last ${raw} is not closed`;
  if (closesDocument || kind === "fragment") return null;
  const hasRoot = tokens.some((token) => token.type === "start" && (token.name === "html" || token.name === "body"));
  const left = open.filter((name) => !MAY_STAY_OPEN.has(name));
  if (!hasRoot || left.length === 0) return null;
  return `its <${left.at(-1)!}> is not closed`;
}

/** An end tag is matched against this many of the innermost open elements. */
const NEAREST = 64;

function listOpenElements(tokens: readonly HtmlToken[]): string[] {
  const open: string[] = [];
  for (const token of tokens) {
    if (token.type === "start" && !VOID_ELEMENTS.has(token.name) && !token.selfClosing) open.push(token.name);
    else if (token.type === "end") {
      // Only near misses are looked for: a stray end tag in a broken page must not cost a search of everything.
      const at = open.slice(-NEAREST).lastIndexOf(token.name);
      if (at >= 0) open.length = Math.max(0, open.length - NEAREST) + at;
    }
  }
  return open;
}

function isLastStart(tokens: readonly HtmlToken[], name: string): boolean {
  const last = tokens.findLast((token) => token.type === "start");
  return last?.type === "start" && last.name === name;
}

/** Whether a document says itself that it is over. */
export const hasDocumentEnd = (content: string, kind: BlockKind): boolean =>
  (kind === "svg" ? /<\/svg\s*>/i : /<\/html\s*>/i).test(content);

const REST = String.raw`(?:rest|remain(?:s|ing|der)|existing|previous|other|everything else|all (?:the )?other|same|unchanged|omitted|your)`;
const ELIDED = [
  // A comment that speaks for code that is not there.
  new RegExp(
    String.raw`(?:<!--|/\*|//|#)[ \t]*(?:\.{3}|…)?[^\n]{0,50}\b${REST}\b[^\n]{0,60}\b(?:code|here|unchanged|same|as before|above|remains?|stays?|functions?|styles?|script|markup|content|omitted|goes)\b`,
    "i",
  ),
  /(?:<!--|\/\*|\/\/)[ \t]*(?:\.{3}|…)[ \t]*(?:-->|\*\/|$)/m,
  /(?:<!--|\/\*|\/\/)[ \t]*(?:\.{3}|…)[^\n]{0,60}(?:\.{3}|…)[ \t]*(?:-->|\*\/|$)/m,
  /^[ \t]*(?:\.{3}|…)[ \t]*$/m,
  /(?:<!--|\/\*|\/\/)[^\n]{0,20}\b(?:unchanged|same as (?:before|above)|as before|kept as is|omitted for brevity)\b/i,
];

/** Without one of these nothing of that is said: a text of comments alone would be searched from each of them. */
const SPEAKS_OF_REST =
  /\.{3}|…|\b(?:rest|remain|existing|previous|other|everything else|same|unchanged|omitted|your|as before|kept as is)/i;

/** Whether a block leaves out what another version has: "the rest is unchanged", "existing code here", a lone "…". */
export const isElided = (content: string): boolean =>
  SPEAKS_OF_REST.test(content) && ELIDED.some((pattern) => pattern.test(content));

/** Puts style sheets and scripts that nothing links into the page that they belong to. */
export function insertIntoPage(page: string, { css, js }: { css: readonly string[]; js: readonly string[] }): string {
  const style = css.map((text) => `<style>\n${text}</style>\n`).join("");
  const script = js
    .map(
      (text) =>
        `<script${/^[^\S\n\r\u2028\u2029]*(?:import|export)\s/m.test(text) ? ' type="module"' : ""}>\n${text}</script>\n`,
    )
    .join("");
  const withStyle = style === "" ? page : (insertBefore(page, "head", style) ?? insertBehindDoctype(page, style));
  return script === "" ? withStyle : (insertBefore(withStyle, "body", script) ?? withStyle + script);
}

function insertBefore(page: string, element: string, text: string): string | null {
  const at = tokenizeHtml(page).tokens.findLast((token) => token.type === "end" && token.name === element)?.start;
  return at === undefined ? null : page.slice(0, at) + text + page.slice(at);
}

function insertBehindDoctype(page: string, text: string): string {
  const doctype = /^\s*<!doctype[^>]*>\s*/i.exec(page)?.[0] ?? "";
  return doctype + text + page.slice(doctype.length);
}
