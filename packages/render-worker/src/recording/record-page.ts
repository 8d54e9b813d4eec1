import type { HungIn, RenderOutcome } from "@tourney/core/contract";
import { CdpClosed, CdpTimeout } from "../browser/cdp-pipe.js";
import { launchBrowser } from "../browser/launch.js";
import { MOST_MEMORY_BYTES } from "../browser/memory-limit.js";
import { type Clip, type Gathered, PageEnded, type RecordDeps } from "./clip.js";
import type { FrameClock } from "./frame-clock.js";
import { lookClosely } from "./look-closely.js";
import { openClock } from "./open-clock.js";
import type { OpenPage } from "./open-page.js";
import type { PageWatch } from "./page-watch.js";
import { playThrough } from "./play-through.js";

/**
 * Records an entry: one browser, a clock of its own, inputs at their moments, pictures on the way.
 * What the page does wrong is an outcome, never an exception.
 * @throws TooHeavy when the page is to be recorded at another stride.
 */
export async function recordPage(clip: Clip, deps: RecordDeps): Promise<Gathered> {
  const browser = launchBrowser(deps);
  const gathered: Omit<Gathered, keyof ReturnType<typeof readWatch>> = {
    outcome: "ok",
    outcomeDetail: null,
    hungIn: null,
    clock: deps.browser.clock,
    isolation: browser.isolation,
    pictures: [],
    steps: [],
    framesDrawn: 0,
    domNodes: null,
    layout: null,
    accessibility: null,
    shownText: "",
  };
  let isOverWall = false;
  const wall = setTimeout(() => {
    isOverWall = true;
    browser.pipe.close();
  }, deps.wallLimitMs);
  let page: OpenPage | null = null;
  let clock: FrameClock | null = null;
  try {
    ({ page, clock } = await openClock(browser, deps, clip));
    await playThrough({ page, clock, clip, gathered });
    if (clip.probes) Object.assign(gathered, await lookClosely(page));
  } catch (error) {
    if (!isOfThePage(error) || page === null || clock === null) throw error;
    Object.assign(gathered, explainEnd(error, { page, clock, isOverWall, pictures: gathered.pictures.length }));
  } finally {
    clearTimeout(wall);
    await browser.end();
  }
  return { ...gathered, ...readWatch(page.watch) };
}

const readWatch = ({ log, blocked, missing, substitutions, dialogs, popups, downloads, servedBytes }: PageWatch) => ({
  log,
  blocked,
  missing,
  substitutions,
  dialogs,
  popups,
  downloads,
  servedBytes,
});

const isOfThePage = (error: unknown): error is Error =>
  error instanceof CdpTimeout || error instanceof CdpClosed || error instanceof PageEnded;

function explainEnd(
  error: Error,
  { page, clock, isOverWall, pictures }: { page: OpenPage; clock: FrameClock; isOverWall: boolean; pictures: number },
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
  if (error instanceof CdpTimeout || isOverWall) {
    const hungIn = pictures === 0 && watch.nowMs < 100 ? "load" : clock.phase;
    const where = { load: "while loading", timer: `in a script at ${at}`, frame: `in a frame at ${at}` }[hungIn];
    return ended("hung", `It stopped answering ${where}`, hungIn);
  }
  return ended("crashed", `The browser ended at ${at}`);
}
