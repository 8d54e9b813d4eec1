import type { StepResult } from "@tourney/core/contract";
import { differsOutside } from "@tourney/core/image";
import { chooseControlClips, describeInput, isJudged, judgeStep, type StepEvidence } from "@tourney/core/page";
import { decodePicture, keepPreview, type KeepPicture } from "./pictures.js";
import type { PageState, PlayedStep } from "./play-through.js";
import type { Clip, Gathered } from "./record-page.js";
import type { TimedStep } from "./timeline.js";

/** Clips without one input each, besides the control clip: each costs about as much as the recording's own. */
const MOST_SINGLE_CLIPS = 3;
/** A release may be handled a moment after it was sent. */
const AFTERMATH_MS = 40;
/** A control's own look may reach this far beyond its box: an outline, a shadow. */
const OUTLINE_PX = 8;

type Effect = StepResult["effect"] | null;
type RecordClip = (clip: Omit<Clip, "plan" | "film" | "probes">) => Promise<Pick<Gathered, "steps">>;

/** Tells of each input of a clip whether the page answered it, making control clips where the clip alone does not say. */
export async function judgeSteps(
  { steps, outcome }: Pick<Gathered, "steps" | "outcome">,
  record: RecordClip,
): Promise<Effect[]> {
  const judged = await Promise.all(steps.map((step) => judgeAlone(step)));
  if (outcome !== "ok" || !judged.includes(null)) return judged;
  const control = await record({ steps, muted: steps.map(mutedSpan) });
  for (const [index, step] of steps.entries()) {
    const other = control.steps[index];
    if (judged[index] !== null || !other) continue;
    judged[index] = judgeStep({
      ...(await compareWithin(step)),
      control: {
        before: await compare(step.before, other.before, null),
        after: await compare(step.after, other.after, null),
      },
    });
  }
  const names = steps.map((step, index) => ({ name: nameOf(step), effect: judged[index]! }));
  for (const index of chooseControlClips(names, MOST_SINGLE_CLIPS)) {
    const step = steps[index]!;
    const without = await record({ steps, muted: [mutedSpan(step)], untilFrame: step.afterFrame });
    const after = without.steps[index]?.after ?? null;
    if (after === null) continue;
    judged[index] = judgeStep({ ...(await compareWithin(step)), without: await compare(step.after, after, null) });
  }
  return judged;
}

const mutedSpan = ({ startMs, endMs }: TimedStep) => ({ fromMs: startMs, toMs: endMs + AFTERMATH_MS });

const nameOf = ({ step, aim }: PlayedStep): string => describeInput(step, aim?.control ?? null);

async function judgeAlone(step: PlayedStep): Promise<Effect> {
  if (!step.wasFound) return "not_found";
  if (!isJudged(step.step, step.aim?.control ?? null)) return "not_judged";
  if (step.before === null || step.after === null || step.quiet === null) return "not_judged";
  return judgeStep(await compareWithin(step));
}

async function compareWithin(step: PlayedStep): Promise<{ quiet: StepEvidence; answer: StepEvidence }> {
  return {
    quiet: await compare(step.quiet, step.before, null),
    answer: await compare(step.before, step.after, step),
  };
}

/** Two looks compared; of a control that was aimed at, its own place is left out, since it may only show that it has the focus. */
async function compare(a: PageState | null, b: PageState | null, step: PlayedStep | null): Promise<StepEvidence> {
  if (a === null || b === null) return { sameDocument: null, samePixels: false };
  const sameDocument = a.dom === null || b.dom === null ? null : a.dom === b.dom;
  if (a.png === b.png) return { sameDocument, samePixels: true };
  const box = step?.aim?.box ?? null;
  if (box === null || sameDocument === false) return { sameDocument, samePixels: false };
  const part = {
    left: box.left - OUTLINE_PX,
    top: box.top - OUTLINE_PX,
    right: box.right + OUTLINE_PX,
    bottom: box.bottom + OUTLINE_PX,
  };
  const [before, after] = [await decodePicture(a.png), await decodePicture(b.png)];
  return { sameDocument, samePixels: !differsOutside(before, after, part, 0) };
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
    const file = kept.get(state.png) ?? (await keepPreview(state.png, name, keep));
    kept.set(state.png, file);
    return file;
  };
  const results: StepResult[] = [];
  for (const [index, { step, origin, aim, before, after }] of steps.entries()) {
    const name = `step-${String(index).padStart(2, "0")}`;
    results.push({
      atMs: step.atMs,
      input: step,
      origin,
      effect: effects[index] ?? "not_judged",
      control: aim?.control ?? null,
      before: await keepOnce(before, `${name}-before`),
      after: await keepOnce(after, `${name}-after`),
    });
  }
  return results;
}
