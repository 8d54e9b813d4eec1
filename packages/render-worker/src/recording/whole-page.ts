import type { Section } from "@tourney/core/contract";
import * as z from "zod";
import type { FrameClock } from "./frame-clock.js";
import type { OpenPage } from "./open-page.js";

/** Taller pages are cut off: nobody looks further, and a picture has its bounds. */
const MOST_HEIGHT_PX = 12_000;
/** Page time that passes at each place before its picture: what appears when it comes into sight has appeared. */
const SETTLE_FRAMES = 36;
const STEP_FRAMES = 6;

/** The pictures of a page from top to bottom, each with its place. */
export interface WholePicture {
  tiles: { top: number; png: string }[];
  height: number;
  /** Of the page, which may reach further than the pictures. */
  pageHeight: number;
  sections: Section[];
}

/**
 * Goes down a page window by window and takes a picture of each. What stays in its place while the page is scrolled is in the first of
 * them, or in the last when it is at the bottom, unless it is the page's ground.
 *
 * @param frame the last that was drawn.
 */
export async function takeWholePage(
  { page, clock, viewHeight }: { page: OpenPage; clock: FrameClock; viewHeight: number },
  frame: number,
): Promise<WholePicture> {
  const { pageHeight, sections } = await page.probe(Measured, MEASURE);
  const height = Math.min(pageHeight, MOST_HEIGHT_PX);
  const tiles: WholePicture["tiles"] = [];
  let last = frame;
  for (let top = 0; top < height; top += viewHeight) {
    const isLast = top + viewHeight >= height;
    await page.probe(z.unknown(), `(${PLACE})(${Math.min(top, height - viewHeight)}, ${top === 0}, ${isLast})`);
    const end = last + SETTLE_FRAMES;
    let png: string | null = null;
    while (last < end) {
      const k = last + STEP_FRAMES;
      const wanted = { from: last, picture: k === end, shows: k + STEP_FRAMES === end };
      png = (await clock.advance(k, wanted)).picture;
      last = k;
    }
    const { scrolled } = await page.probe(z.object({ scrolled: z.number() }), "({ scrolled: Math.round(scrollY) })");
    if (png !== null) tiles.push({ top: scrolled, png });
  }
  await page.probe(z.unknown(), `(${PLACE})(0, true, true)`);
  return { tiles, height, pageHeight, sections };
}

const Measured = z.object({
  pageHeight: z.number(),
  sections: z.array(z.object({ role: z.string(), name: z.string(), top: z.number(), height: z.number() })),
});

/**
 * The page's parts as assistive technology knows them (WAI-ARIA landmarks) and its sections; where there are none, what lies between two
 * headings. Of parts within others only those of the main part are told.
 */
const MEASURE = `(() => {
  const root = document.scrollingElement ?? document.documentElement;
  const ROLES = { HEADER: "banner", NAV: "navigation", MAIN: "main", ASIDE: "complementary", FOOTER: "contentinfo", SECTION: "section", ARTICLE: "article", FORM: "form", SEARCH: "search" };
  const roleOf = (element) => element.getAttribute("role") ?? ROLES[element.tagName] ?? "section";
  const textOf = (element) => (element?.innerText ?? element?.textContent ?? "").replace(/\\s+/g, " ").trim().slice(0, 80);
  const nameOf = (element) => element.getAttribute("aria-label")?.trim().slice(0, 80)
    || textOf(document.getElementById(element.getAttribute("aria-labelledby") ?? "")) || textOf(element.querySelector("h1, h2, h3, h4"));
  const place = (box) => ({ top: Math.max(0, Math.round(box.top + scrollY)), height: Math.round(box.height) });
  const LANDMARKS = "header, nav, main, aside, footer, section, article, form, search, [role=banner], [role=navigation], [role=main], [role=complementary], [role=contentinfo], [role=region], [role=search], [role=form]";
  const found = [];
  const look = (around) => {
    for (const element of around.querySelectorAll(LANDMARKS)) {
      const outer = element.parentElement?.closest(LANDMARKS);
      if (outer && outer !== around && around.contains(outer)) continue;
      const box = element.getBoundingClientRect();
      if (box.height < 8 || box.width < 8 || found.length >= 40) continue;
      const isMain = roleOf(element) === "main";
      const before = found.length;
      if (isMain) look(element);
      if (!isMain || found.length === before) found.push({ role: roleOf(element), name: nameOf(element), ...place(box) });
    }
  };
  if (document.body) look(document.body);
  if (found.length === 0) {
    const headings = [...document.querySelectorAll("h1, h2")].filter((heading) => heading.getClientRects().length > 0).slice(0, 40);
    const tops = headings.map((heading) => Math.max(0, Math.round(heading.getBoundingClientRect().top + scrollY)));
    headings.forEach((heading, index) => found.push({ role: "heading", name: textOf(heading), top: tops[index], height: Math.max(1, (tops[index + 1] ?? root.scrollHeight) - tops[index]) }));
  }
  return { pageHeight: root.scrollHeight, sections: found.sort((a, b) => a.top - b.top) };
})()`;

/** Scrolls to a place, and hides there what would be in every picture. */
const PLACE = `((top, isFirst, isLast) => {
  const marked = (globalThis.tourneyHidden ??= new Map());
  for (const [element, value] of marked) element.style.setProperty("visibility", value);
  marked.clear();
  const root = document.scrollingElement ?? document.documentElement;
  root.scrollTo({ top, behavior: "instant" });
  let looked = 0;
  for (const element of document.body?.querySelectorAll("*") ?? []) {
    if (++looked > 5000) break;
    const style = getComputedStyle(element);
    const isStuck = style.position === "sticky" && top > 0 && Math.abs(element.getBoundingClientRect().top - parseFloat(style.top)) < 1;
    if (style.position !== "fixed" && !isStuck) continue;
    const box = element.getBoundingClientRect();
    if (box.width * box.height > 0.6 * innerWidth * innerHeight) continue;
    const isLow = box.top + box.height / 2 > innerHeight / 2;
    if (isStuck ? isFirst : isLow ? isLast : isFirst) continue;
    marked.set(element, element.style.getPropertyValue("visibility"));
    element.style.setProperty("visibility", "hidden", "important");
  }
  return 0;
})`;
