import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { gzipSync } from "node:zlib";
import type { AccessibilityIssue, Layout } from "@tourney/core/page";
import * as z from "zod";
import type { OpenPage } from "./open-page.js";
import { quietly, readLayout, readShownText } from "./probes.js";
import { PageEnded } from "./clip.js";
import type { WholePicture } from "./whole-page.js";

/** What is checked for anyone to be able to read and work the page at all. */
const RULES = [
  "color-contrast",
  "html-has-lang",
  "document-title",
  "image-alt",
  "svg-img-alt",
  "label",
  "select-name",
  "button-name",
  "link-name",
  "input-button-name",
];
/** A page of 850 elements takes 0.7 s; one that takes longer than this is left unchecked. */
const AXE_LIMIT_MS = 8000;
/** A worker that says nothing while so much processor time is used has stopped answering; one that works answers when it is done. */
export const WORKER_LIMIT_MS = 15_000;

let packedAxe: string | null = null;
/** The checks' program, packed: as plain text it would take longer to hand over than the checks do. */
const packAxe = () =>
  (packedAxe ??= gzipSync(readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"))).toString(
    "base64",
  ));

/** Evaluated in a step of its own: a page may forbid evaluation to all but the browser's own tools. */
const unpackAxe = () => `(async () => {
  const bytes = Uint8Array.fromBase64("${packAxe()}");
  globalThis.axeSource = await new Response(new Blob([bytes]).stream().pipeThrough(new DecompressionStream("gzip"))).text();
  return 0;
})()`;

const AxeAnswer = z.array(
  z.object({
    id: z.string(),
    help: z.string(),
    nodes: z.int(),
    target: z.string(),
    detail: z.string(),
    worstContrast: z.number().nullable(),
    neededContrast: z.number().nullable(),
  }),
);

const RUN_AXE = `(async () => {
  const { violations } = await axe.run(document, { runOnly: { type: "rule", values: ${JSON.stringify(RULES)} }, resultTypes: ["violations"], iframes: false, preload: false });
  return violations.map(({ id, help, nodes }) => {
    const checks = nodes.map((node) => ({ node, data: node.any.find((check) => check.id === "color-contrast")?.data }))
      .sort((a, b) => (a.data?.contrastRatio ?? 99) - (b.data?.contrastRatio ?? 99));
    const worst = checks[0];
    return { id, help, nodes: nodes.length, target: String(worst.node.target[0]).slice(0, 200), detail: worst.node.html.slice(0, 200),
      worstContrast: worst.data?.contrastRatio ?? null, neededContrast: worst.data ? parseFloat(worst.data.expectedContrastRatio) : null };
  });
})()`;

interface CloseLook {
  domNodes: number | null;
  layout: Layout | null;
  accessibility: AccessibilityIssue[] | null;
  shownText: string;
  whole: WholePicture | null;
}

/**
 * What a page is like at its end: how it is laid out, and whether people can read and work it. Its workers are asked whether they live.
 *
 * @param workerLimitMs processor time in which each of them answers.
 * @param takeWhole takes the pictures of a page that goes on below the window.
 */
export async function lookClosely(
  page: OpenPage,
  workerLimitMs = WORKER_LIMIT_MS,
  takeWhole: (() => Promise<WholePicture>) | null = null,
): Promise<CloseLook & Partial<{ outcome: "hung"; hungIn: "worker"; outcomeDetail: string }>> {
  page.watch.end();
  const layout = await readLayout(page);
  const shownText = await readShownText(page);
  const domNodes = await countNodes(page);
  const silent = await countSilentWorkers(page, workerLimitMs);
  // Whatever becomes of the page now, its clip is whole.
  const whole = silent === 0 && takeWhole !== null && goesOn(layout) ? await takeWhole().catch(() => null) : null;
  const accessibility = await readAccessibility(page);
  if (page.watch.crashed) throw new PageEnded();
  const hung = {
    outcome: "hung",
    hungIn: "worker",
    outcomeDetail: `${silent === 1 ? "A worker" : `${silent} workers`} stopped answering`,
  } as const;
  return { layout, domNodes, accessibility, shownText, whole, ...(silent > 0 ? hung : {}) };
}

/** Less than this below the window is a rounded margin. */
const BELOW_PX = 24;
const goesOn = (layout: Layout | null): boolean =>
  layout !== null && layout.canScrollDown && layout.pageHeight > layout.viewHeight + BELOW_PX;

async function readAccessibility(page: OpenPage): Promise<AccessibilityIssue[] | null> {
  const run = async () => {
    await page.probe(z.unknown(), unpackAxe(), AXE_LIMIT_MS);
    await page.probe(z.unknown(), "(0, eval)(axeSource); 0", AXE_LIMIT_MS);
    // The checks wait for timers, so time goes on by itself; the pictures have been taken.
    await page.send("Emulation.setVirtualTimePolicy", { policy: "advance" }).catch(() => undefined);
    return page.probe(AxeAnswer, RUN_AXE, AXE_LIMIT_MS);
  };
  // Whatever happens to the page now, its recording is whole.
  return quietly(run()).catch(() => null);
}

async function countSilentWorkers({ watch, browser }: OpenPage, workerLimitMs: number): Promise<number> {
  // All of them work side by side.
  const limitMs = workerLimitMs * watch.workers.size;
  const asked = [...watch.workers].map((sessionId) =>
    browser.pipe.send("Runtime.evaluate", { expression: "0" }, sessionId, limitMs).then(
      () => false,
      // One that ended is not silent: the browser says at once that it is gone.
      (error: unknown) => error instanceof Error && error.name === "PageStuck",
    ),
  );
  return (await Promise.all(asked)).filter(Boolean).length;
}

async function countNodes({ send }: OpenPage): Promise<number | null> {
  const counted = z.object({ nodes: z.number() }).safeParse(await quietly(send("Memory.getDOMCounters")));
  return counted.success ? counted.data.nodes : null;
}
