import type { BlockedRequest, Isolation, LogLine, RecordingPlan, RenderOutcome } from "@tourney/core/contract";
import * as z from "zod";
import { type Browser, launchBrowser } from "../browser/launch.js";
import { CdpClosed, CdpTimeout } from "../browser/cdp-pipe.js";
import { MOST_MEMORY_BYTES } from "../browser/memory-limit.js";
import { pageScript } from "../browser/page-script.js";
import { dispatchInput } from "./dispatch-input.js";
import { ENTRY_ORIGIN, type FileMap, PageWatch } from "./page-watch.js";
import { atFrame, planCaptures, planInputs } from "./timeline.js";

/** 2026-01-01 00:00:00 UTC: the moment at which every recording starts, in seconds. */
const START_OF_TIME_S = 1_767_225_600;
/** How long one frame of page time may take before the page counts as hung. */
const FRAME_LIMIT_MS = 15_000;

export interface Gathered {
  outcome: RenderOutcome;
  outcomeDetail: string | null;
  isolation: Isolation;
  /** PNG pictures with their page time. */
  pictures: { atMs: number; png: Buffer }[];
  log: LogLine[];
  blocked: BlockedRequest[];
  domNodes: number | null;
}

export interface RecordDeps {
  binary: string;
  errors: (line: string) => void;
  /** Wall time after which the recording ends as hung. */
  wallLimitMs: number;
}

/**
 * Records an entry: one browser, virtual time, explicit begin-frames, inputs at their moments, pictures on the way.
 * What the page does wrong is an outcome, never an exception.
 */
export async function recordPage(
  files: FileMap,
  entryPath: string,
  plan: RecordingPlan,
  deps: RecordDeps,
): Promise<Gathered> {
  const browser = launchBrowser(deps);
  const gathered: Gathered = {
    outcome: "ok",
    outcomeDetail: null,
    isolation: browser.isolation,
    pictures: [],
    log: [],
    blocked: [],
    domNodes: null,
  };
  const wall = setTimeout(() => browser.pipe.close(), deps.wallLimitMs);
  const startedAt = performance.now();
  let watch: PageWatch | null = null;
  try {
    const page = await openPage(browser, files, plan);
    watch = page.watch;
    await playThrough(browser, page, { entryPath, plan, pictures: gathered.pictures });
    gathered.domNodes = await countNodes(browser, page.sessionId);
  } catch (error) {
    if (!(error instanceof CdpTimeout || error instanceof CdpClosed || error instanceof PageEnded)) throw error;
    if (watch === null) throw error;
    const isOverWall = performance.now() - startedAt >= deps.wallLimitMs;
    Object.assign(gathered, explainEnd(error, watch, { isOverWall, browser, pictures: gathered.pictures.length }));
  } finally {
    clearTimeout(wall);
    await browser.end();
  }
  return { ...gathered, log: watch.log, blocked: watch.blocked };
}

/** The page did something that ends its recording. */
class PageEnded extends Error {}

function explainEnd(
  error: Error,
  watch: PageWatch | null,
  { isOverWall, browser, pictures }: { isOverWall: boolean; browser: Browser; pictures: number },
): Pick<Gathered, "outcome" | "outcomeDetail"> {
  if (browser.wasOverMemory())
    return {
      outcome: "memory",
      outcomeDetail: `More than ${MOST_MEMORY_BYTES / 1e6} MB after ${watch?.nowMs ?? 0} ms of page time`,
    };
  if (watch?.navigatedTo != null)
    return { outcome: "navigated", outcomeDetail: `To ${watch.navigatedTo.slice(0, 200)}` };
  if (watch?.crashed) return { outcome: "crashed", outcomeDetail: `After ${watch.nowMs} ms of page time` };
  if (error instanceof CdpTimeout || isOverWall) {
    const phase = pictures === 0 ? "while loading" : `at ${watch?.nowMs ?? 0} ms of page time`;
    return { outcome: "hung", outcomeDetail: `It stopped answering ${phase}` };
  }
  return { outcome: "crashed", outcomeDetail: `The browser ended at ${watch?.nowMs ?? 0} ms of page time` };
}

interface OpenPage {
  sessionId: string;
  watch: PageWatch;
  /** Resolves when the granted virtual time is used up. */
  nextBudgetEnd: () => Promise<void>;
}

async function openPage(browser: Browser, files: FileMap, plan: RecordingPlan): Promise<OpenPage> {
  const { pipe } = browser;
  const context = z.object({ browserContextId: z.string() }).parse(await pipe.send("Target.createBrowserContext"));
  const { targetId } = z.object({ targetId: z.string() }).parse(
    await pipe.send("Target.createTarget", {
      url: "about:blank",
      ...context,
      ...plan.viewport,
      enableBeginFrameControl: true,
    }),
  );
  const { sessionId } = z
    .object({ sessionId: z.string() })
    .parse(await pipe.send("Target.attachToTarget", { targetId, flatten: true }));
  const watch = new PageWatch(pipe, sessionId, files);
  const waiting: (() => void)[] = [];
  pipe.listen((event) => {
    watch.handle(event);
    // A crashed page answers nothing more: everything that waits for it ends now.
    if (watch.crashed) pipe.close();
    if (event.method === "Emulation.virtualTimeBudgetExpired" && event.sessionId === sessionId) waiting.shift()?.();
    if (event.method === "Target.targetCreated") closePopup(browser, event.params, targetId);
  });
  await pipe.send("Target.setDiscoverTargets", { discover: true });
  for (const domain of ["Page", "Runtime", "Network", "Inspector"]) await pipe.send(`${domain}.enable`, {}, sessionId);
  await pipe.send("Page.addScriptToEvaluateOnNewDocument", { source: pageScript(plan.seed) }, sessionId);
  await pipe.send("Fetch.enable", { patterns: [{ urlPattern: "*" }] }, sessionId);
  await pipe.send("Browser.setDownloadBehavior", { behavior: "deny", ...context });
  return { sessionId, watch, nextBudgetEnd: () => new Promise((resolve) => waiting.push(resolve)) };
}

function closePopup(browser: Browser, params: unknown, ownTargetId: string): void {
  const created = z.object({ targetInfo: z.object({ targetId: z.string(), type: z.string() }) }).safeParse(params);
  if (!created.success) return;
  const { targetId, type } = created.data.targetInfo;
  if (type !== "page" || targetId === ownTargetId) return;
  browser.pipe.send("Target.closeTarget", { targetId }).catch(() => undefined);
}

async function playThrough(
  { pipe }: Browser,
  { sessionId, watch, nextBudgetEnd }: OpenPage,
  { entryPath, plan, pictures }: { entryPath: string; plan: RecordingPlan; pictures: Gathered["pictures"] },
): Promise<void> {
  const paused = await pipe.send(
    "Emulation.setVirtualTimePolicy",
    { policy: "pause", initialVirtualTime: START_OF_TIME_S },
    sessionId,
  );
  const { virtualTimeTicksBase: base } = z.object({ virtualTimeTicksBase: z.number() }).parse(paused);
  const address = `${ENTRY_ORIGIN}/${entryPath.split("/").map(encodeURIComponent).join("/")}`;
  await pipe.send("Page.navigate", { url: address }, sessionId);
  const captures = planCaptures(plan.seconds, plan.frames);
  const isCaptured = new Set(captures);
  const inputs = planInputs(plan.walkthrough);
  for (let k = 1; k <= captures.at(-1)!; k++) {
    watch.nowMs = atFrame(k - 1);
    while (inputs[0] && inputs[0].atMs <= watch.nowMs) await dispatchInput({ pipe, sessionId, watch }, inputs.shift()!);
    await watch.answerHeld();
    const ended = nextBudgetEnd();
    const budget = atFrame(k) - atFrame(k - 1);
    await pipe.send(
      "Emulation.setVirtualTimePolicy",
      { policy: "advance", budget, maxVirtualTimeTaskStarvationCount: 10_000 },
      sessionId,
    );
    await withLimit(ended, `frame ${k}`);
    const screenshot = isCaptured.has(k) ? { screenshot: { format: "png", optimizeForSpeed: true } } : {};
    const frame = await pipe.send(
      "HeadlessExperimental.beginFrame",
      {
        frameTimeTicks: base + atFrame(k),
        interval: budget,
        noDisplayUpdates: !(isCaptured.has(k) || isCaptured.has(k + 1)),
        ...screenshot,
      },
      sessionId,
      FRAME_LIMIT_MS,
    );
    if (watch.crashed || watch.navigatedTo !== null) throw new PageEnded();
    const { screenshotData } = z.object({ screenshotData: z.string().optional() }).parse(frame);
    if (screenshotData !== undefined) pictures.push({ atMs: atFrame(k), png: Buffer.from(screenshotData, "base64") });
  }
}

async function withLimit(event: Promise<void>, what: string): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const limit = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new CdpTimeout(`${what} did not end within ${FRAME_LIMIT_MS} ms`)), FRAME_LIMIT_MS);
  });
  try {
    await Promise.race([event, limit]);
  } finally {
    clearTimeout(timer);
  }
}

async function countNodes({ pipe }: Browser, sessionId: string): Promise<number | null> {
  const world = z
    .object({ nodes: z.number() })
    .safeParse(await pipe.send("Memory.getDOMCounters", {}, sessionId).catch(() => null));
  return world.success ? world.data.nodes : null;
}
