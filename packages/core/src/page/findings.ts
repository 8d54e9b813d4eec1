import type { BlockedRequest, Finding, LogLine, RenderOutcome } from "../contract/index.js";

/** What a recording gathered, as far as the findings need it. */
export interface Observed {
  outcome: RenderOutcome;
  outcomeDetail: string | null;
  frameTimesMs: readonly number[];
  /** Per frame: share of pixels that differ from the commonest colour, 0–1. */
  content: readonly number[];
  /** Per interval between neighbouring frames: share of pixels that changed, 0–1. */
  motion: readonly number[];
  log: readonly LogLine[];
  blocked: readonly BlockedRequest[];
  motionExpected: boolean;
}

/** A frame with fewer drawn pixels than this is blank: 0.02 % of 1280×800 is about 200 pixels, less than one short word. */
const BLANK_CONTENT_SHARE = 0.0002;
/** Fewer changed pixels than this in every interval is no motion that a person would see. */
const STILL_MOTION_SHARE = 0.0002;

/**
 * What the render noticed by itself, gravest first. Blank is judged over the whole clip: a page that draws late is not blank.
 */
export function findFindings(observed: Observed): Finding[] {
  const findings = [
    findBadOutcome(observed),
    findBlank(observed),
    ...findExceptions(observed),
    findStill(observed),
    ...findBlocked(observed),
  ].filter((finding) => finding !== null);
  const weight = { error: 0, warning: 1, note: 2 };
  return findings.sort((a, b) => weight[a.severity] - weight[b.severity]);
}

function findBadOutcome({ outcome, outcomeDetail }: Observed): Finding | null {
  const words: Partial<Record<RenderOutcome, { rule: Finding["rule"]; message: string }>> = {
    crashed: { rule: "crashed", message: "The page crashed the browser" },
    memory: { rule: "crashed", message: "The page used too much memory" },
    hung: { rule: "hung", message: "The page hung" },
    navigated: { rule: "navigated", message: "The page went somewhere else" },
  };
  const found = words[outcome];
  return found ? { ...found, severity: "error", atMs: null, evidence: outcomeDetail ?? "" } : null;
}

function findBlank({ content, frameTimesMs, outcome }: Observed): Finding | null {
  if (content.length === 0 || content.some((share) => share >= BLANK_CONTENT_SHARE)) return null;
  if (outcome !== "ok") return null;
  const seconds = (frameTimesMs.at(-1) ?? 0) / 1000;
  return {
    rule: "blank",
    severity: "error",
    message: `Blank for ${seconds.toFixed(0)} s`,
    atMs: 0,
    evidence: `${content.length} frames of one colour`,
  };
}

function findStill({ motion, content, motionExpected, outcome }: Observed): Finding | null {
  const isBlank = content.every((share) => share < BLANK_CONTENT_SHARE);
  if (!motionExpected || motion.length === 0 || isBlank || outcome !== "ok") return null;
  if (motion.some((share) => share >= STILL_MOTION_SHARE)) return null;
  return {
    rule: "still",
    severity: "warning",
    message: "Nothing moves",
    atMs: null,
    evidence: `At most ${(Math.max(...motion) * 100).toFixed(3)} % of the pixels change between frames`,
  };
}

function findExceptions({ log }: Observed): Finding[] {
  const first = new Map<string, { line: LogLine; times: number }>();
  for (const line of log.filter(({ source }) => source === "exception")) {
    const known = first.get(line.text);
    if (known) known.times++;
    else first.set(line.text, { line, times: 1 });
  }
  return [...first.values()].map(({ line, times }) => ({
    rule: "exception",
    severity: "error",
    message: line.text.split("\n")[0]!,
    atMs: line.atMs,
    evidence: [line.where, times > 1 ? `${times} times` : null].filter((part) => part !== null).join(", "),
  }));
}

function findBlocked({ blocked }: Observed): Finding[] {
  const urls = [...new Set(blocked.map(({ url }) => url))];
  return urls.map((url) => ({
    rule: "blocked_request",
    severity: "warning",
    message: `Asked the network for ${url.slice(0, 200)}`,
    atMs: null,
    evidence: url,
  }));
}
