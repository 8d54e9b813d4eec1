import type {
  BlockedRequest,
  Finding,
  HungIn,
  Kind,
  LogLine,
  RealTime,
  RenderOutcome,
  Stability,
  StepResult,
  StressTest,
} from "../contract/index.js";

/** How a page is laid out at the end of its clip, CSS px. */
export interface Layout {
  pageWidth: number;
  pageHeight: number;
  viewWidth: number;
  viewHeight: number;
  canScrollSideways: boolean;
  canScrollDown: boolean;
  /** Text and controls that reach beyond the right edge, each with by how much. */
  beyond: readonly string[];
  /** Elements that cut off their own text, each with by how much. */
  clipped: readonly string[];
  /** Addresses of pictures that could not be shown. */
  brokenImages: readonly string[];
  /** Words in the page's text that come of a slip: NaN, undefined, Infinity, [object Object]. */
  wrongWords: readonly string[];
  hasText: boolean;
  /** How many elements lie within one another at the deepest place, the root counted as one. */
  depth: number;
}

/** One rule of accessibility that a page does not keep, with the worst place. */
export interface AccessibilityIssue {
  id: string;
  help: string;
  /** How many elements do not keep it. */
  nodes: number;
  target: string;
  detail: string;
  /** Lowest contrast ratio found, 1–21, and what is needed there; null for other rules. */
  worstContrast: number | null;
  neededContrast: number | null;
}

/** What a recording gathered, as far as the findings need it. */
export interface Observed {
  outcome: RenderOutcome;
  outcomeDetail: string | null;
  hungIn: HungIn | null;
  kind: Kind | null;
  motionExpected: boolean;
  frameTimesMs: readonly number[];
  /** Per frame: share of pixels that differ from the commonest colour, 0–1. */
  content: readonly number[];
  /** Per interval between neighbouring frames: share of pixels that changed, 0–1. */
  motion: readonly number[];
  log: readonly LogLine[];
  blocked: readonly Pick<BlockedRequest, "url" | "type" | "library">[];
  /** Paths of the entry's own that it asked for and does not have. */
  missing: readonly string[];
  /** `isAnswer` where it came right after an input. */
  dialogs: readonly { type: string; message: string; atMs: number; isAnswer: boolean }[];
  popups: readonly { url: string; atMs: number; isAnswer: boolean }[];
  downloads: readonly string[];
  layout: Layout | null;
  accessibility: readonly AccessibilityIssue[] | null;
  steps: readonly Pick<StepResult, "atMs" | "input" | "effect" | "control" | "origin">[];
  /** What the page offers to be worked by; null where it was not looked for. */
  controls: readonly string[] | null;
  /** What its text asks a machine for, in words. */
  needs: readonly string[];
  stability: Stability | null;
  realTime: RealTime | null;
  stress: StressTest | null;
}

/** A finding before it has its rule's version, and before its cause was looked for. */
export type Found = Omit<Finding, "version" | "followsFrom">;
