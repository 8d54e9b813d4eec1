import type { Layout } from "@tourney/core/page";
import * as z from "zod";
import { type OpenPage, ProbeFailed } from "./open-page.js";

/** More elements than this are not walked through: a page of a million would take seconds for every look. */
const MOST_NODES = 20_000;

/**
 * A digest of all that a page's document says by itself: elements, attributes, text, what forms hold and how far things are
 * scrolled, shadow trees included. What is drawn on a canvas is seen in the pixels.
 */
const DOM_STATE = `(() => {
  let a = 0x811c9dc5, b = 0x1b873593, nodes = 0;
  const add = (text) => {
    for (let i = 0; i < text.length; i++) {
      const c = text.charCodeAt(i);
      a = Math.imul(a ^ c, 0x01000193);
      b = Math.imul(b ^ c, 0x85ebca6b);
    }
    a = Math.imul(a ^ 0x1f, 0x01000193);
  };
  const walk = (node) => {
    if (++nodes > ${MOST_NODES}) return;
    if (node.nodeType === 3) return add(node.data);
    if (node.nodeType === 1) {
      add(node.localName);
      for (const { name, value } of node.attributes) { add(name); add(value); }
      if (node.scrollTop || node.scrollLeft) add(node.scrollTop + "," + node.scrollLeft);
      if ("value" in node && typeof node.value !== "object") add(String(node.value));
      if ("checked" in node) add(String(node.checked));
      if (node.localName === "canvas") add(node.width + "x" + node.height);
      if (node.shadowRoot) walk(node.shadowRoot);
    }
    for (let child = node.firstChild; child; child = child.nextSibling) walk(child);
  };
  walk(document);
  add(location.hash);
  return (a >>> 0).toString(16) + (b >>> 0).toString(16) + ":" + nodes;
})()`;

/** The digest of the document as it is now, or null when it cannot be had. */
export async function readDomState({ probe }: OpenPage): Promise<string | null> {
  return quietly(probe(z.string(), DOM_STATE));
}

const LAYOUT = `(() => {
  const root = document.scrollingElement ?? document.documentElement;
  const { innerWidth: width, innerHeight: height } = globalThis;
  const name = (element) => {
    const id = element.id ? "#" + element.id : "";
    const own = [...element.classList].slice(0, 2).map((part) => "." + part).join("");
    return element.localName + (id || own);
  };
  const all = [...document.querySelectorAll("body *")].slice(0, 5000);
  const hasOwnText = (element) => [...element.childNodes].some((node) => node.nodeType === 3 && node.data.trim() !== "");
  // Whether something around it, which itself is in sight, scrolls it or cuts it off.
  const isHeld = (element) => {
    for (let around = element.parentElement; around && around !== document.body; around = around.parentElement)
      if (getComputedStyle(around).overflowX !== "visible" && around.getBoundingClientRect().right <= width + 8) return true;
    return false;
  };
  const wrong = [];
  const texts = document.createTreeWalker(document.body ?? document, NodeFilter.SHOW_TEXT);
  for (let node = texts.nextNode(), n = 0; node && n < 5000 && wrong.length < 5; node = texts.nextNode(), n++) {
    const around = node.parentElement;
    if (!around || ["SCRIPT", "STYLE", "TEMPLATE", "NOSCRIPT", "CODE", "PRE"].includes(around.tagName.toUpperCase())) continue;
    // Behind the word nothing may follow that would make it a part of a sentence about it.
    const slip = /(?:^|[\\s:=(,/+×-])(-?NaN(?![-\\w])|(?:undefined|-?Infinity)(?![-\\w]|\\s+[a-z])|\\[object Object\\])/.exec(node.data);
    if (slip && around.getClientRects().length > 0) wrong.push(slip[1]);
  }
  const beyond = [];
  const clipped = [];
  for (const element of all) {
    if (["script", "style", "template"].includes(element.localName) || element.closest("svg")) continue;
    const box = element.getBoundingClientRect();
    if (box.width < 2 || box.height < 2) continue;
    const style = getComputedStyle(element);
    if (style.visibility === "hidden" || style.opacity === "0") continue;
    const isText = hasOwnText(element);
    const isControl = element.matches("button, input, select, textarea, a[href], [role=button]");
    // Partly in sight: what is wholly outside is a menu that slides in, or scenery that passes by.
    if ((isText || isControl) && box.left < width && box.right > width + 8 && box.left >= 0 && !isHeld(element))
      beyond.push(name(element) + " ends " + Math.round(box.right - width) + " px beyond the right edge");
    if (isText && element.scrollWidth > element.clientWidth + 2 && ["hidden", "clip"].includes(style.overflowX) && style.textOverflow !== "ellipsis" && element.clientWidth > 0)
      clipped.push(name(element) + " hides " + (element.scrollWidth - element.clientWidth) + " px of its text");
    else if (isText && element.scrollHeight > element.clientHeight + 4 && ["hidden", "clip"].includes(style.overflowY) && element.clientHeight > 0 && style.webkitLineClamp === "none")
      clipped.push(name(element) + " hides " + (element.scrollHeight - element.clientHeight) + " px of its text's height");
  }
  const broken = [...document.images].filter((image) => image.complete && image.naturalWidth === 0 && image.currentSrc !== "" && image.getBoundingClientRect().width > 0)
    .map((image) => image.currentSrc.slice(0, 200));
  const text = (document.body?.innerText ?? "").slice(0, 200000);
  let depth = 1;
  for (let element = document.documentElement, level = 1; element; ) {
    if (element.firstElementChild) {
      element = element.firstElementChild;
      depth = Math.max(depth, ++level);
      continue;
    }
    for (; element && !element.nextElementSibling; level--) element = element.parentElement;
    element = element?.nextElementSibling;
  }
  return {
    depth, pageWidth: root.scrollWidth, pageHeight: root.scrollHeight, viewWidth: width, viewHeight: height,
    canScrollSideways: !["hidden", "clip"].includes(getComputedStyle(document.documentElement).overflowX) && !(document.body && ["hidden", "clip"].includes(getComputedStyle(document.body).overflowX)),
    canScrollDown: !["hidden", "clip"].includes(getComputedStyle(document.documentElement).overflowY) && !(document.body && ["hidden", "clip"].includes(getComputedStyle(document.body).overflowY)),
    beyond: beyond.slice(0, 10), clipped: clipped.slice(0, 10), brokenImages: broken.slice(0, 10),
    wrongWords: wrong,
    hasText: text.trim().length > 0,
  };
})()`;

const LayoutAnswer: z.ZodType<Layout> = z.object({
  pageWidth: z.number(),
  pageHeight: z.number(),
  viewWidth: z.number(),
  viewHeight: z.number(),
  canScrollSideways: z.boolean(),
  canScrollDown: z.boolean(),
  beyond: z.array(z.string()),
  clipped: z.array(z.string()),
  brokenImages: z.array(z.string()),
  wrongWords: z.array(z.string()),
  hasText: z.boolean(),
  depth: z.number(),
});

/** Where the page's parts are, how far it reaches, and what of it cannot be seen; null when it cannot be had. */
export const readLayout = ({ probe }: OpenPage): Promise<Layout | null> => quietly(probe(LayoutAnswer, LAYOUT));

/** Longer texts say nothing more about who made the page. */
const MOST_SHOWN = 8000;
const SHOWN_TEXT = `(() => {
  const lines = [];
  let length = 0;
  const add = (text) => {
    const line = String(text ?? "").replace(/\\s+/g, " ").trim();
    if (line !== "" && length < ${MOST_SHOWN}) length += lines.push(line) && line.length + 1;
  };
  const attributes = ["alt", "title", "placeholder", "aria-label", "aria-description", "label"];
  const look = (root) => {
    for (const line of (root.innerText ?? root.textContent ?? "").split("\\n")) add(line);
    for (const element of root.querySelectorAll("*")) {
      for (const name of attributes) add(element.getAttribute(name));
      if (element.localName === "input" || element.localName === "textarea") add(element.value);
      for (const part of ["::before", "::after"]) {
        const { content } = getComputedStyle(element, part);
        if (/^["']/.test(content)) add(content);
      }
      if (element.shadowRoot) look(element.shadowRoot);
      if (length >= ${MOST_SHOWN}) return;
    }
  };
  if (document.body) look(document.body);
  return lines.join("\\n").slice(0, ${MOST_SHOWN});
})()`;

/** What the page says, a line each, without what was not to be read; empty when it cannot be had. */
export const readShownText = async ({ probe }: OpenPage): Promise<string> =>
  (await quietly(probe(z.string(), SHOWN_TEXT))) ?? "";

/** A look at the page that does not end the recording when it fails; what ends the page does. */
export async function quietly<T>(looking: Promise<T>): Promise<T | null> {
  try {
    return await looking;
  } catch (error) {
    if (error instanceof ProbeFailed || isAboutThePage(error)) return null;
    throw error;
  }
}

/** The browser's own refusal, as of a frame that is no longer there. */
const isAboutThePage = (error: unknown): boolean => error instanceof Error && error.name === "Error";
