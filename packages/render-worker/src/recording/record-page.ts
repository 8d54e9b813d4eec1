import type {
  BlockedRequest,
  HungIn,
  Isolation,
  LogLine,
  RecordingPlan,
  RenderOutcome,
  Substitution,
} from "@tourney/core/contract";
import type { AccessibilityIssue, Layout } from "@tourney/core/page";
import { type Browser, launchBrowser } from "../browser/launch.js";
import { CdpClosed, CdpTimeout } from "../browser/cdp-pipe.js";
import { MOST_MEMORY_BYTES } from "../browser/memory-limit.js";
import type { MutedSpan } from "../browser/page-script.js";
import { openClock } from "./open-clock.js";
import type { FrameClock } from "./frame-clock.js";
import type { OpenPage } from "./open-page.js";
import type { PageWatch } from "./page-watch.js";
import { lookClosely } from "./look-closely.js";
import { playThrough, type PlayedStep } from "./play-through.js";
import type { ServePage } from "./serve-page.js";
import type { TimedStep } from "./timeline.js";
import type { BrowserChoice } from "../browser/launch.js";

export interface Picture {
  atMs: number;
  /** PNG in base64, as the browser gave it: equal pictures are equal texts. */
  png: string;
}

/** All that one recording of a page brought, before anything is concluded from it. */
export interface Gathered {
  outcome: RenderOutcome;
  outcomeDetail: string | null;
  hungIn: HungIn | null;
  clock: FrameClock["kind"];
  isolation: Isolation;
  pictures: Picture[];
  steps: PlayedStep[];
  log: LogLine[];
  blocked: BlockedRequest[];
  missing: string[];
  substitutions: Substitution[];
  dialogs: PageWatch["dialogs"];
  popups: PageWatch["popups"];
  downloads: string[];
  servedBytes: number;
  framesDrawn: number;
  domNodes: number | null;
  layout: Layout | null;
  accessibility: AccessibilityIssue[] | null;
}

export interface RecordDeps {
  browser: BrowserChoice;
  errors: (line: string) => void;
  /** Wall time after which the recording ends as hung. */
  wallLimitMs: number;
  /** How long one frame of page time may take before the page counts as hung. */
  frameLimitMs: number;
  serve: ServePage;
}

/** What of a plan one clip is for. */
export interface Clip {
  plan: RecordingPlan;
  /** The inputs, when they are known already; else they are planned from the plan. */
  steps?: readonly TimedStep[];
  /** Spans in which the page is not told of the inputs. */
  muted?: readonly MutedSpan[];
  /** Whether the filmstrip's pictures are taken, or only what the steps need. */
  film: boolean;
  /** Whether the page is looked at closely at its end. */
  probes: boolean;
  /** How many frames of page time to go on at a time: 1, or more for a heavy page. */
  stride: number;
  /** Whether the page is looked at around each input. */
  looks: boolean;
  /** Told of each step when it has been looked at after it; true ends the clip there. */
  isEnough?: (step: PlayedStep, index: number) => boolean;
  /** The last frame, where the clip need not be whole. */
  untilFrame?: number;
}

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

/** The page did something that ends its recording. */
export class PageEnded extends Error {
  override readonly name = "PageEnded";
}

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

export type { Browser };
