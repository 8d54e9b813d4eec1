import type { Found, Observed } from "./observed.js";
import { BLANK_CONTENT_SHARE, STILL_MOTION_SHARE } from "./thresholds.js";

/** What is left in the last frames, against the median of those before, when everything has gone. */
const LEFT_SHARE = 0.05;
/** So many frames at the end must show it. */
const LAST_FRAMES = 2;
/** An exception this late is one of a page that had begun well. */
const LATE_MS = 500;

/** A page that begins well and goes wrong: its picture empties, its motion ends with an exception, its text shows a slip. */
export function findGoingWrong(observed: Observed): Found[] {
  return observed.outcome === "ok"
    ? [...findEmptying(observed), ...findStopping(observed), ...findSlips(observed)]
    : [];
}

function findEmptying({ content, frameTimesMs }: Observed): Found[] {
  const drawn = content.filter((share) => share >= BLANK_CONTENT_SHARE).toSorted((a, b) => a - b);
  const usual = drawn[Math.floor(drawn.length / 2)] ?? 0;
  const isGone = (share: number) => share < Math.max(BLANK_CONTENT_SHARE, usual * LEFT_SHARE);
  const since = content.findLastIndex((share) => !isGone(share)) + 1;
  if (usual < 10 * BLANK_CONTENT_SHARE || drawn.length < 2 || content.length - since < LAST_FRAMES) return [];
  return [
    {
      rule: "goes_wrong",
      severity: "error",
      message: "Everything leaves the view",
      atMs: frameTimesMs[since] ?? null,
      evidence: `${percent(usual)} of the picture is drawn on before, ${percent(content.at(-1)!)} at the end`,
    },
  ];
}

function findStopping({ motion, frameTimesMs, log, motionExpected }: Observed): Found[] {
  const lastMoving = motion.findLastIndex((share) => share >= STILL_MOTION_SHARE);
  if (!motionExpected || lastMoving === -1 || lastMoving >= motion.length - 3) return [];
  const stoppedMs = frameTimesMs[lastMoving + 1]!;
  const interval = (frameTimesMs.at(-1)! - frameTimesMs[0]!) / motion.length;
  const exception = log.find(
    ({ source, atMs }) => source === "exception" && atMs >= LATE_MS && Math.abs(atMs - stoppedMs) <= 1.5 * interval,
  );
  if (!exception) return [];
  return [
    {
      rule: "goes_wrong",
      severity: "error",
      message: `Stops moving at ${(exception.atMs / 1000).toFixed(1)} s, when it throws`,
      atMs: exception.atMs,
      evidence: exception.text.split("\n")[0]!.slice(0, 200),
    },
  ];
}

function findSlips({ layout, frameTimesMs }: Observed): Found[] {
  const words = [...new Set(layout?.wrongWords ?? [])];
  if (words.length === 0) return [];
  return [
    {
      rule: "goes_wrong",
      severity: "warning",
      message: `Shows ${words.join(", ")} in its text`,
      atMs: frameTimesMs.at(-1) ?? null,
      evidence: `${layout!.wrongWords.length === 1 ? "once" : `${layout!.wrongWords.length} times`} in the text at the end of the clip`,
    },
  ];
}

const percent = (share: number) => `${(share * 100).toFixed(share < 0.01 ? 2 : 0)} %`;
