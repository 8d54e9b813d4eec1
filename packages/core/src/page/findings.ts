import type { Finding, RenderOutcome } from "../contract/index.js";
import { tellConsequences } from "./consequences.js";
import { findDeadControls, findMissingControls } from "./dead-controls.js";
import type { Found, Observed } from "./observed.js";
import { findAccessibility, findOverflow, findTallPage, findUnreadableText } from "./layout-findings.js";
import { BLANK_CONTENT_SHARE, STILL_MOTION_SHARE } from "./thresholds.js";
import { findGoingWrong } from "./going-wrong.js";
import { findNeeds } from "./needs.js";
import { findUnderStress } from "./stress-findings.js";

/**
 * The version of each rule: a change of what a rule calls wrong is a new one, so that findings made before and after are not
 * taken for the same. docs/findings.md says what each means and how it can err.
 */
const VERSIONS: Partial<Record<Finding["rule"], number>> = {
  blank: 3,
  still: 3,
  blocked_request: 2,
  exception: 2,
  hung: 2,
  crashed: 2,
  navigated: 2,
  dead_control: 2,
  goes_wrong: 2,
  popup: 2,
  dialog: 2,
};

/**
 * What the render noticed by itself, gravest first. Every rule is a pure function over what was gathered.
 */
export function findFindings(observed: Observed): Finding[] {
  const found = [
    ...findBadOutcome(observed),
    ...findBlank(observed),
    ...findExceptions(observed),
    ...findGoingWrong(observed),
    ...findUnderStress(observed),
    ...findStill(observed),
    ...findDeadControls(observed),
    ...findMissingControls(observed),
    ...findNeeds(observed),
    ...findMissing(observed),
    ...findRemote(observed),
    ...findWindows(observed),
    ...findUnreadableText(observed),
    ...findOverflow(observed),
    ...findSlowFrames(observed),
    ...findTallPage(observed),
    ...findAccessibility(observed),
    ...findUnstable(observed),
  ];
  const weight = { error: 0, warning: 1, note: 2 };
  return tellConsequences(found, observed)
    .map((finding) => ({ ...finding, version: VERSIONS[finding.rule] ?? 1 }))
    .sort((a, b) => weight[a.severity] - weight[b.severity]);
}

function findBadOutcome({ outcome, outcomeDetail, hungIn }: Observed): Found[] {
  const words: Partial<Record<RenderOutcome, { rule: Finding["rule"]; message: string }>> = {
    crashed: { rule: "crashed", message: "The page crashed the browser" },
    memory: { rule: "crashed", message: "The page used too much memory" },
    hung: { rule: "hung", message: hungIn === "worker" ? "A worker of the page hung" : "The page hung" },
    navigated: { rule: "navigated", message: "The page went somewhere else" },
  };
  const found = words[outcome];
  return found ? [{ ...found, severity: "error", atMs: null, evidence: outcomeDetail ?? "" }] : [];
}

const isBlankAllThrough = (content: readonly number[]): boolean =>
  content.length > 0 && content.every((share) => share < BLANK_CONTENT_SHARE);

function findBlank({ content, frameTimesMs, outcome, layout }: Observed): Found[] {
  if (outcome !== "ok" || !isBlankAllThrough(content)) return [];
  // Text so small or so few that its pixels do not count is not nothing.
  if (layout?.hasText === true && content.some((share) => share > 0)) return [];
  const seconds = (frameTimesMs.at(-1) ?? 0) / 1000;
  return [
    {
      rule: "blank",
      severity: "error",
      message: `Blank for ${seconds.toFixed(0)} s`,
      atMs: 0,
      evidence: `${content.length} frames of one colour`,
    },
  ];
}

function findStill({ motion, content, motionExpected, outcome }: Observed): Found[] {
  if (!motionExpected || motion.length === 0 || isBlankAllThrough(content) || outcome !== "ok") return [];
  if (motion.some((share) => share >= STILL_MOTION_SHARE)) return [];
  return [
    {
      rule: "still",
      severity: "warning",
      message: "Nothing moves",
      atMs: null,
      evidence: `At most ${(Math.max(...motion) * 100).toFixed(3)} % of the pixels change between frames`,
    },
  ];
}

function findExceptions({ log }: Observed): Found[] {
  const first = new Map<string, { line: (typeof log)[number]; times: number }>();
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

function findMissing({ missing, layout }: Observed): Found[] {
  const broken = (layout?.brokenImages ?? []).filter((url) => !missing.some((path) => url.endsWith(path)));
  const own = missing.map((path) => ({ what: path, message: `Asks for ${path}, which it does not bring` }));
  const pictures = broken
    .filter((url) => url.startsWith("data:") || url.startsWith("blob:"))
    .map((url) => ({ what: url.slice(0, 80), message: "A picture cannot be shown" }));
  return [...own, ...pictures].map(({ what, message }) => ({
    rule: "missing_asset",
    severity: "warning",
    message,
    atMs: null,
    evidence: what,
  }));
}

function findRemote({ blocked }: Observed): Found[] {
  const byUrl = new Map(blocked.map((request) => [request.url, request]));
  return [...byUrl.values()].map(({ url, library }) =>
    library === null
      ? {
          rule: "blocked_request",
          severity: "warning",
          message: `Asked the network for ${url.slice(0, 200)}`,
          atMs: null,
          evidence: url,
        }
      : {
          rule: "library_missing",
          severity: "warning",
          message: `Needs ${library}, which is not on the shelf`,
          atMs: null,
          evidence: `./tourney shelf add ${library.replace(" ", "@")} · asked for as ${url}`,
        },
  );
}

/** Windows of any kind that a page opens in front of the person. */
function findWindows({ dialogs, popups, downloads }: Observed): Found[] {
  const found: Found[] = [];
  const [dialog] = dialogs;
  if (dialog) {
    found.push({
      rule: "dialog",
      severity: dialogs.every(({ isAnswer }) => isAnswer) ? "note" : "warning",
      message: dialogs.length === 1 ? `Opens a dialog (${dialog.type})` : `Opens ${dialogs.length} dialogs`,
      atMs: dialog.atMs,
      evidence: `${dialog.type}: ${dialog.message}`,
    });
  }
  const [popup] = popups;
  if (popup) {
    found.push({
      rule: "popup",
      severity: popups.every(({ isAnswer }) => isAnswer) ? "note" : "warning",
      message: popups.length === 1 ? "Opens another window" : `Opens ${popups.length} other windows`,
      atMs: popup.atMs,
      evidence: popup.url || "an empty window",
    });
  }
  if (downloads.length > 0) {
    found.push({
      rule: "popup",
      severity: "warning",
      message: "Tries to download a file",
      atMs: null,
      evidence: downloads[0]!,
    });
  }
  return found;
}

/** A median interval longer than this is fewer than 30 frames a second. */
const SLOW_FRAME_MS = 34;

function findSlowFrames({ realTime, motionExpected }: Observed): Found[] {
  if (!motionExpected || realTime === null || realTime.p50Ms <= SLOW_FRAME_MS) return [];
  return [
    {
      rule: "slow_frames",
      severity: "note",
      message: `Draws about ${Math.round(1000 / realTime.p50Ms)} frames a second on the machine that recorded it`,
      atMs: null,
      evidence: `Median interval ${realTime.p50Ms.toFixed(0)} ms, 95 % under ${realTime.p95Ms.toFixed(0)} ms, over ${realTime.seconds} s`,
    },
  ];
}

function findUnstable({ stability }: Observed): Found[] {
  if (stability === null || stability.isStable) return [];
  return [
    {
      rule: "unstable",
      severity: "note",
      message: `Not the same in ${stability.recordings} recordings`,
      atMs: null,
      evidence: stability.differing.join(", "),
    },
  ];
}
