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
import type { EntryBrowsers } from "../browser/entry-browsers.js";
import type { BrowserChoice } from "../browser/launch.js";
import type { MutedSpan } from "../browser/page-script.js";
import type { Aim } from "./dispatch-input.js";
import type { FrameClock } from "./frame-clock.js";
import type { Pacing } from "./pace.js";
import type { PageWatch } from "./page-watch.js";
import type { ServePage } from "./serve-page.js";
import type { TimedStep } from "./timeline.js";
import type { WholePicture } from "./whole-page.js";

export interface Picture {
  atMs: number;
  /** PNG in base64, as the browser gave it: equal pictures are equal texts. */
  png: string;
}

/** What a page looks like and says at one moment. */
export interface PageState {
  png: string;
  dom: string | null;
}

/** A step with what the page was like around it. */
export interface PlayedStep extends TimedStep {
  wasFound: boolean;
  aim: Aim | null;
  quiet: PageState | null;
  before: PageState | null;
  after: PageState | null;
}

/** All that one recording of a page brought, before anything is concluded from it. */
export interface Gathered {
  /** What the page said at the end. */
  shownText: string;
  outcome: RenderOutcome;
  outcomeDetail: string | null;
  hungIn: HungIn | null;
  clock: FrameClock["kind"];
  isolation: Isolation;
  pictures: Picture[];
  steps: PlayedStep[];
  /** What the page offers to be worked by, in words; null where it was not looked for. */
  controls: string[] | null;
  log: LogLine[];
  blocked: BlockedRequest[];
  missing: string[];
  substitutions: Substitution[];
  dialogs: PageWatch["dialogs"];
  popups: PageWatch["popups"];
  downloads: string[];
  undone: PageWatch["undone"];
  /** Moments at which the page did something that a person sees, beyond its document and its picture. */
  answersMs: number[];
  servedBytes: number;
  framesDrawn: number;
  domNodes: number | null;
  layout: Layout | null;
  accessibility: AccessibilityIssue[] | null;
  /** Of a page that goes on below the window. */
  whole: WholePicture | null;
}

export interface RecordDeps {
  browser: BrowserChoice;
  browsers: EntryBrowsers;
  /** Those that draw on the machine's own clock. */
  realTimeBrowsers: EntryBrowsers;
  errors: (line: string) => void;
  /** Processor time that the browser may use for a whole clip before the page counts as hung. */
  clipLimitMs: number;
  /** Processor time that it may use for one frame of page time. */
  frameLimitMs: number;
  serve: ServePage;
  /** The keys that the entry's own text names, and what it asks a machine for. */
  namedKeys: readonly string[];
  needs: readonly string[];
}

/** When a page is looked at around an input: a while before it, right before it, and when its effect should be seen. */
export type Moment = "quiet" | "before" | "after";
export const MOMENTS: readonly Moment[] = ["quiet", "before", "after"];

/** What of a plan one clip is for. */
export interface Clip {
  plan: RecordingPlan;
  /** The inputs, when they are known already; else they are planned from the plan. */
  steps?: readonly TimedStep[];
  /** Spans in which the page is not told of the inputs. */
  muted?: readonly MutedSpan[];
  /** Whether the filmstrip's pictures are taken, or only what the steps need. */
  film: boolean;
  /** Told of each of the filmstrip's pictures as it is taken, so that it can be worked on while the clip goes on. */
  onPicture?: (png: string) => void;
  /** Whether the page is looked at closely at its end. */
  probes: boolean;
  pacing: Pacing;
  /** Whether the page is looked at at a moment of an input, which is given by its place. */
  looksAt: (step: number, moment: Moment) => boolean;
  /** Told of each step when it has been looked at after it; true ends the clip there. */
  isEnough?: (step: PlayedStep, index: number) => boolean;
  /** The last frame, where the clip need not be whole. */
  untilFrame?: number;
}

/** The page did something that ends its recording. */
export class PageEnded extends Error {
  override readonly name = "PageEnded";
}
