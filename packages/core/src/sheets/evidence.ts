import { type Recording, type Watchpoint } from "../contract/index.js";

/** Most lines of one sort that are quoted beside a watch-point. */
const MOST_LINES = 3;
/** Share of pixels that must change between two frames to be called a movement. */
const MOVES = 0.0005;

const quote = (lines: readonly string[]): string[] =>
  lines.length <= MOST_LINES
    ? [...lines]
    : [...lines.slice(0, MOST_LINES), `and ${lines.length - MOST_LINES} more like these`];

function ofControls({ controls, steps }: Recording): string[] {
  const tried = controls.filter(({ state }) => state !== "not_tried");
  const answering = tried.filter(({ state }) => state === "answers").length;
  const silent = steps.filter(({ effect }) => effect === "none" || effect === "not_found");
  return [
    ...(tried.length === 0 ? [] : [`${answering} of ${tried.length} controls answer`]),
    ...quote(
      silent.map(({ effect, control }) =>
        effect === "none"
          ? `${control ?? "an input"} does nothing`
          : `${control ?? "what an input aims at"} is not there`,
      ),
    ),
  ];
}

function ofMotion({ metrics: { motion }, findings }: Recording): string[] {
  if (motion.length === 0) return [];
  const moving = motion.filter((share) => share > MOVES).length;
  const slow = findings.filter(({ rule }) => rule === "slow_frames").map(({ message }) => message);
  return [`something moves in ${moving} of ${motion.length} steps of the recording`, ...slow];
}

const ofRules =
  (...rules: Recording["findings"][number]["rule"][]) =>
  ({ findings }: Recording): string[] =>
    quote(findings.filter(({ rule }) => rules.includes(rule)).map(({ message }) => message));

const LINES: Readonly<Record<string, (recording: Recording) => string[]>> = {
  controls: ofControls,
  motion: ofMotion,
  text: ofRules("unreadable_text", "overflow", "accessibility"),
  picture: ofRules("blank", "overflow", "missing_asset", "still"),
  log: ofRules("exception", "crashed", "hung", "missing_asset", "blocked_request"),
};

/**
 * What a recording already knows about a watch-point that says where its evidence lies. It is offered beside the judge's answer and is
 * never the answer: a control that answers may still answer wrongly.
 *
 * @returns a few short lines; none where the watch-point names no evidence, or the recording says nothing of it.
 */
export function listEvidence(watchpoint: Watchpoint, recording: Recording): string[] {
  if (typeof watchpoint === "string") return [];
  return LINES[watchpoint.evidence]?.(recording) ?? [];
}
