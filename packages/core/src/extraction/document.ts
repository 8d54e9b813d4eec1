import type { Fence } from "./fences.js";

/** What a block of code is, as far as a browser is concerned. */
export type BlockKind = "document" | "fragment" | "svg" | "css" | "js" | "component" | "other";

const HTML_LANGUAGES = new Set(["html", "htm", "xhtml"]);
const JS_LANGUAGES = new Set(["js", "javascript", "mjs"]);
const COMPONENT_LANGUAGES = new Set(["jsx", "tsx", "vue"]);

/** Tells a block by its content first, since fences are often mislabelled, and by its label second. */
export function classifyBlock(fence: Pick<Fence, "language" | "content">): BlockKind {
  const { language, content } = fence;
  const head = content.slice(0, 4000);
  const isDiff = language === "diff" || /^(---|\+\+\+|@@) /m.test(head.slice(0, 200));
  if (isDiff || ["bash", "sh", "shell", "console"].includes(language)) return "other";
  if (/^\s*(<!--[\s\S]*?-->\s*)*(<!doctype\s+html|<html[\s>])/i.test(head)) return "document";
  if (/^\s*(<\?xml[^>]*\?>\s*)?(<!--[\s\S]*?-->\s*)*(<!DOCTYPE svg[^>]*>\s*)?<svg[\s>]/i.test(head)) return "svg";
  if (COMPONENT_LANGUAGES.has(language)) return "component";
  if (HTML_LANGUAGES.has(language) && /<[a-z][^>]*>/i.test(content)) return "fragment";
  if (language === "css") return "css";
  if (JS_LANGUAGES.has(language)) return "js";
  return "other";
}

/** Whether a document or drawing ends before it should, judged by itself: an unclosed script, style, comment or tag. */
export function isCutOff(content: string, kind: BlockKind): boolean {
  const text = content.trimEnd();
  if (kind === "svg") return !/<\/svg\s*>\s*(<!--[\s\S]*-->)?$/i.test(text);
  if (/<\/html\s*>\s*(<!--[\s\S]*-->)?$/i.test(text)) return false;
  for (const [open, close] of [
    [/<script[\s>]/gi, /<\/script\s*>/gi],
    [/<style[\s>]/gi, /<\/style\s*>/gi],
    [/<!--/g, /-->/g],
  ] as const) {
    if (lastIndex(text, open) > lastIndex(text, close)) return true;
  }
  return /<[a-z/!][^<>]*$/i.test(text.slice(-2000));
}

function lastIndex(text: string, pattern: RegExp): number {
  let last = -1;
  for (const match of text.matchAll(pattern)) last = match.index;
  return last;
}

/** Whether a block leaves out what an earlier one had: "the rest is unchanged", "existing code here". */
export function isElided(content: string): boolean {
  return /(?:<!--|\/\*|\/\/|#)[^\n]{0,40}\b(?:rest|remaining|existing|previous|same)\b[^\n]{0,60}\b(?:unchanged|same|as before|here|above|code)\b/i.test(
    content,
  );
}

/** Puts style sheets and scripts that nothing links into the page that they belong to. */
export function insertIntoPage(page: string, { css, js }: { css: readonly string[]; js: readonly string[] }): string {
  const style = css.map((text) => `<style>\n${text}</style>\n`).join("");
  const script = js.map((text) => `<script>\n${text}</script>\n`).join("");
  const withStyle = insertBefore(page, /<\/head\s*>/i, style) ?? style + page;
  return insertBefore(withStyle, /<\/body\s*>/i, script) ?? withStyle + script;
}

function insertBefore(page: string, tag: RegExp, text: string): string | null {
  const match = tag.exec(page);
  return match ? page.slice(0, match.index) + text + page.slice(match.index) : null;
}

/** Whether a page refers to a file by its path, in an attribute or an import. */
export function refersTo(page: string, path: string): boolean {
  const escaped = path.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  return new RegExp(`["'(](?:\\./)?${escaped}["')?#]`).test(page);
}
