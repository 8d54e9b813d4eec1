import type { StepResult } from "@tourney/core/contract";
import { differsOutside } from "@tourney/core/image";
import { chooseControlClips, describeInput, isJudged, judgeStep, type StepEvidence } from "@tourney/core/page";
import type { MutedSpan } from "../browser/page-script.js";
import type { Box } from "./accessible.js";
import { decodePicture, keepPreview, type KeepPicture } from "./pictures.js";
import type { Clip, Gathered, PageState, PlayedStep } from "./clip.js";
import { atFrame, type TimedStep } from "./timeline.js";

/** Clips without one input each, besides the control clip: each costs about as much as the recording's own. */
const MOST_SINGLE_CLIPS = 2;
/** A release may be handled a moment after it was sent. */
const AFTERMATH_MS = 40;
/** A control's own look may reach this far beyond its box: an outline, a shadow. */
const OUTLINE_PX = 8;

type Effect = StepResult["effect"] | null;
type RecordClip = (clip: Omit<Clip, "plan" | "film" | "probes" | "pacing">) => Promise<Pick<Gathered, "steps">>;

/** Tells of each input of a clip whether the page answered it, making control clips where the clip alone does not say. */
export async function judgeSteps(
  { steps, outcome, answersMs }: Pick<Gathered, "steps" | "outcome" | "answersMs">,
  record: RecordClip,
): Promise<Effect[]> {
  const judged: Effect[] = [];
  for (const [index, step] of steps.entries()) {
    if (isAnswered(step, answersMs)) judged.push("changed");
    else if (wantsFocus(step) && steps[index - 1]?.wasFound === false) judged.push("not_judged");
    else judged.push(await judgeAlone(step, findFocused(steps, index)));
  }
  if (outcome !== "ok" || !judged.includes(null)) return judged;
  const control = await record({
    steps,
    looksAt: (index, moment) => moment !== "quiet" && judged[index] === null,
    untilFrame: Math.max(...steps.map(({ afterFrame }, index) => (judged[index] === null ? afterFrame : 0))),
    muted: steps.map(mutedSpan),
    // Once an input had its effect the two go apart, and nothing more is to be learnt from comparing them.
    isEnough: (other, index) => !isAlike(steps[index]!.after, other.after),
  });
  for (const [index, step] of steps.entries()) {
    const other = control.steps[index];
    if (judged[index] !== null || !other) continue;
    judged[index] = judgeStep({
      ...(await compareWithin(step, findFocused(steps, index))),
      control: {
        before: await compare(step.before, other.before),
        after: await compare(step.after, other.after),
      },
    });
  }
  const names = steps.map((step, index) => ({ name: nameOf(step), effect: judged[index]! }));
  for (const index of chooseControlClips(names, MOST_SINGLE_CLIPS)) {
    const step = steps[index]!;
    const without = await record({
      steps,
      looksAt: (other, moment) => other === index && moment === "after",
      muted: [mutedSpan(step)],
      untilFrame: step.afterFrame,
    });
    const after = without.steps[index]?.after ?? null;
    if (after === null) continue;
    judged[index] = judgeStep({
      ...(await compareWithin(step, findFocused(steps, index))),
      without: await compare(step.after, after),
    });
  }
  return judged;
}

const mutedSpan = ({ step, startMs, endMs }: TimedStep): MutedSpan => ({
  fromMs: startMs,
  toMs: endMs + AFTERMATH_MS,
  // Before a press the pointer moves too, and what hovering does is not the press's.
  isMove: "move" in step,
});

const controlOf = ({ aim, meantFor }: PlayedStep): string | null => aim?.control ?? meantFor;

const nameOf = (played: PlayedStep): string => describeInput(played.step, controlOf(played));

/** Whether the page opened something, or would have gone somewhere, in answer to an input. */
const isAnswered = ({ startMs, afterFrame, wasFound }: PlayedStep, answersMs: readonly number[]): boolean =>
  wasFound && answersMs.some((atMs) => atMs >= startMs && atMs <= atFrame(afterFrame));

/** Text goes where the focus is: what was to be given it before may not have been there. */
const wantsFocus = ({ step }: PlayedStep): boolean => "type" in step || "paste" in step;

async function judgeAlone(step: PlayedStep, focused: Box | null): Promise<Effect> {
  if (!step.wasFound) return "not_found";
  if (!isJudged(step.step, controlOf(step))) return "not_judged";
  if (step.before === null || step.after === null || step.quiet === null) return "not_judged";
  return judgeStep(await compareWithin(step, focused));
}

async function compareWithin(
  step: PlayedStep,
  focused: Box | null,
): Promise<{ quiet: StepEvidence; answer: StepEvidence }> {
  const own = step.aim?.box ?? null;
  return {
    quiet: await compare(step.quiet, step.before),
    // Where a control that was aimed at takes the focus, the one before loses it: the look of neither is an answer.
    answer: await compare(step.before, step.after, own === null ? [] : [own, ...(focused ? [focused] : [])]),
  };
}

/** What was aimed at last before a step, and may have kept the focus. */
const findFocused = (steps: readonly PlayedStep[], index: number): Box | null =>
  steps.slice(0, index).findLast(({ aim }) => aim?.box)?.aim?.box ?? null;

const isAlike = (a: PageState | null, b: PageState | null): boolean => a?.png === b?.png && a?.dom === b?.dom;

/** Two looks compared, the places that are left out aside. */
async function compare(a: PageState | null, b: PageState | null, leftOut: readonly Box[] = []): Promise<StepEvidence> {
  if (a === null || b === null) return { sameDocument: null, samePixels: false };
  const sameDocument = a.dom === null || b.dom === null ? null : a.dom === b.dom;
  if (a.png === b.png) return { sameDocument, samePixels: true };
  if (leftOut.length === 0 || sameDocument === false) return { sameDocument, samePixels: false };
  const parts = leftOut.map(({ left, top, right, bottom }) => ({
    left: left - OUTLINE_PX,
    top: top - OUTLINE_PX,
    right: right + OUTLINE_PX,
    bottom: bottom + OUTLINE_PX,
  }));
  const [before, after] = [await decodePicture(a.png), await decodePicture(b.png)];
  return { sameDocument, samePixels: !differsOutside(before, after, parts, 0) };
}

/** The steps as they are kept, with a picture before and one after each. */
export async function keepSteps(
  steps: readonly PlayedStep[],
  effects: readonly Effect[],
  keep: KeepPicture,
): Promise<StepResult[]> {
  const kept = new Map<string, string>();
  const keepOnce = async (state: PageState | null, name: string) => {
    if (state === null) return null;
    const file = kept.get(state.png) ?? (await keepPreview(await decodePicture(state.png), name, keep));
    kept.set(state.png, file);
    return file;
  };
  const results: StepResult[] = [];
  for (const [index, played] of steps.entries()) {
    const { step, origin, before, after } = played;
    const name = `step-${String(index).padStart(2, "0")}`;
    results.push({
      atMs: step.atMs,
      input: step,
      origin,
      effect: effects[index] ?? "not_judged",
      control: controlOf(played),
      before: await keepOnce(before, `${name}-before`),
      after: await keepOnce(after, `${name}-after`),
    });
  }
  return results;
}
