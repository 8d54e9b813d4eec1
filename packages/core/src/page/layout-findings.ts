import { KINDS } from "../contract/index.js";
import type { Found, Observed } from "./observed.js";

/** Below this ratio text can hardly be told from its ground; what is merely under the norm is a note. */
const HARDLY_READABLE = 2.5;

/** Text that does not stand out from its ground, by WCAG 2.2, 1.4.3 (contrast, minimum). */
export function findUnreadableText({ accessibility }: Observed): Found[] {
  const contrast = accessibility?.find(({ id }) => id === "color-contrast");
  if (!contrast || contrast.worstContrast === null) return [];
  const isHard = contrast.worstContrast < HARDLY_READABLE;
  return [
    {
      rule: "unreadable_text",
      severity: isHard ? "warning" : "note",
      message: `${isHard ? "Text that can hardly be read" : "Text of low contrast"}: ${contrast.worstContrast.toFixed(1)} to 1${contrast.nodes > 1 ? `, in ${contrast.nodes} places` : ""}`,
      atMs: null,
      evidence: `${contrast.target}, ${contrast.neededContrast ?? 4.5} to 1 is needed`,
    },
  ];
}

/** Further beyond the edge than a scroll bar or a shadow. */
const BEYOND_PX = 8;

/** Things that reach beyond the right edge, or hide part of their own text. */
export function findOverflow({ layout }: Observed): Found[] {
  if (!layout) return [];
  const wider = layout.pageWidth - layout.viewWidth;
  const evidence = [...layout.beyond, ...layout.clipped];
  if (layout.canScrollSideways && wider > BEYOND_PX) {
    return [
      {
        rule: "overflow",
        severity: "warning",
        message: `Wider than the window by ${wider} px`,
        atMs: null,
        evidence: evidence[0] ?? `${layout.pageWidth} px wide in a window of ${layout.viewWidth}`,
      },
    ];
  }
  if (evidence.length === 0) return [];
  return [
    {
      rule: "overflow",
      severity: "note",
      message: evidence.length === 1 ? "A part of it is cut off" : `${evidence.length} parts of it are cut off`,
      atMs: null,
      evidence: evidence.slice(0, 3).join(" · "),
    },
  ];
}

/** A page this much taller than the window shows a good part of itself to nobody who does not scroll. */
const TALL_SHARE = 1.25;

/** A page that goes on below the window; on what is meant to be seen whole that is a fault. */
export function findTallPage({ layout, kind }: Observed): Found[] {
  if (!layout?.canScrollDown || layout.pageHeight <= layout.viewHeight * TALL_SHARE) return [];
  return [
    {
      rule: "tall_page",
      severity: kind !== null && KINDS[kind].mustFit ? "warning" : "note",
      message: `${(layout.pageHeight / layout.viewHeight).toFixed(1)} times as tall as the window`,
      atMs: null,
      evidence: `${layout.pageHeight} px in a window of ${layout.viewHeight}; pictures show the top`,
    },
  ];
}

/** Without these somebody cannot use the page at all; without the others they are only not told about it. */
const GRAVE = new Set(["button-name", "label", "select-name", "link-name", "input-button-name"]);

/** Basics of accessibility that are not kept, contrast apart. */
export function findAccessibility({ accessibility }: Observed): Found[] {
  const issues = (accessibility ?? []).filter(({ id }) => id !== "color-contrast");
  if (issues.length === 0) return [];
  const grave = issues.filter(({ id }) => GRAVE.has(id));
  const [first] = grave.length > 0 ? grave : issues;
  return [
    {
      rule: "accessibility",
      severity: grave.length > 0 ? "warning" : "note",
      message: issues.map(({ help, nodes }) => `${help}${nodes > 1 ? ` (${nodes})` : ""}`).join("; "),
      atMs: null,
      evidence: `${first!.target}: ${first!.detail}`,
    },
  ];
}
