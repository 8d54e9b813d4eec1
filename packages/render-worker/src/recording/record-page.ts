import type { HungIn, RenderOutcome } from "@tourney/core/contract";
import { CdpClosed } from "../browser/cdp-pipe.js";
import { PageStuck } from "../browser/patience.js";
import { MOST_MEMORY_BYTES } from "../browser/memory-limit.js";
import { type Clip, type Gathered, PageEnded, type RecordDeps } from "./clip.js";
import type { FrameClock } from "./frame-clock.js";
import { lookClosely, WORKER_LIMIT_MS } from "./look-closely.js";
import { openClock } from "./open-clock.js";
import type { OpenPage } from "./open-page.js";
import type { PageWatch } from "./page-watch.js";
import { playThrough } from "./play-through.js";
import { takeWholePage } from "./whole-page.js";

/** A clip that takes longer than this, without the browser having used what it may, is kept from ending by the machine. */
const CLIP_STARVED_MS = 20 * 60_000;

/**
 * Records an entry: a context of its own, a clock of its own, inputs at their moments, pictures on the way.
 * What the page does wrong is an outcome, never an exception.
 * @throws PlayedWrongly when the page is to be recorded in another way; MachineBusy when nothing can be said of it.
 */
export async function recordPage(clip: Clip, deps: RecordDeps): Promise<Gathered> {
  const browser = deps.browsers.take();
  const gathered: Omit<Gathered, keyof ReturnType<typeof readWatch>> = {
    outcome: "ok",
    outcomeDetail: null,
    hungIn: null,
    clock: deps.browser.clock,
    isolation: browser.isolation,
    pictures: [],
    steps: [],
    controls: null,
    framesDrawn: 0,
    domNodes: null,
    layout: null,
    accessibility: null,
    whole: null,
    shownText: "",
  };
  const whole: { error: Error | null } = { error: null };
  const limits = { limitMs: deps.clipLimitMs, starvedMs: CLIP_STARVED_MS };
  const endWait = browser.patience.begin("The clip", limits, (error) => {
    if (error instanceof CdpClosed) return;
    whole.error = error;
    browser.pipe.close();
  });
  let page: OpenPage | null = null;
  let clock: FrameClock | null = null;
  let isSound = false;
  try {
    ({ page, clock } = await openClock(browser, deps, clip));
    const playing = { page, clock, clip, namedKeys: deps.namedKeys, gathered };
    const frame = await playThrough(playing);
    const workerLimitMs = Math.min(WORKER_LIMIT_MS, deps.frameLimitMs);
    const viewHeight = clip.plan.viewport.height;
    const takeWhole = () => takeWholePage({ ...playing, viewHeight }, frame);
    if (clip.probes) Object.assign(gathered, await lookClosely(page, workerLimitMs, takeWhole));
    if (page.watch.navigatedTo !== null) throw new PageEnded();
    isSound = gathered.outcome === "ok" && (await page.close());
  } catch (thrown) {
    const error = whole.error ?? thrown;
    if (!isOfThePage(error) || page === null || clock === null) throw error;
    // Kept from going, the page is still there to be looked at.
    if (clip.probes && error instanceof PageEnded && page.watch.isThere)
      Object.assign(gathered, await lookClosely(page).catch(() => null));
    Object.assign(gathered, explainEnd(error, { page, clock, pictures: gathered.pictures.length }));
  } finally {
    endWait();
    await deps.browsers.giveBack(browser, isSound);
  }
  return { ...gathered, ...readWatch(page.watch) };
}

const readWatch = ({ log, requests, dialogs, popups, downloads, undone, answersMs }: PageWatch) => ({
  log,
  blocked: requests.blocked,
  missing: requests.missing,
  substitutions: requests.substitutions,
  servedBytes: requests.servedBytes,
  dialogs,
  popups,
  downloads,
  undone,
  answersMs,
});

const isOfThePage = (error: unknown): error is Error =>
  error instanceof PageStuck || error instanceof CdpClosed || error instanceof PageEnded;

function explainEnd(
  error: Error,
  { page, clock, pictures }: { page: OpenPage; clock: FrameClock; pictures: number },
): Pick<Gathered, "outcome" | "outcomeDetail" | "hungIn"> {
  const { watch, browser } = page;
  const at = `${watch.nowMs} ms of page time`;
  const ended = (outcome: RenderOutcome, outcomeDetail: string, hungIn: HungIn | null = null) => ({
    outcome,
    outcomeDetail,
    hungIn,
  });
  if (browser.wasOverMemory()) return ended("memory", `More than ${MOST_MEMORY_BYTES / 1e6} MB after ${at}`);
  if (watch.crashedForMemory || browser.saidOutOfMemory())
    return ended("memory", `Its scripts ran out of memory after ${at}`);
  if (watch.navigatedTo !== null) return ended("navigated", `To ${watch.navigatedTo.slice(0, 200)}`);
  if (watch.flooded !== null) return ended("hung", `It opened ${watch.flooded} without end`, "timer");
  if (watch.crashed) return ended("crashed", `After ${at}`);
  if (error instanceof PageStuck) {
    const hungIn = pictures === 0 && watch.nowMs < 100 ? "load" : clock.phase;
    const where = { load: "while loading", timer: `in a script at ${at}`, frame: `in a frame at ${at}` }[hungIn];
    return ended("hung", `It stopped answering ${where}`, hungIn);
  }
  return ended("crashed", `The browser ended at ${at}`);
}
