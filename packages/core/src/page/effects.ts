import type { StepResult, WalkthroughStep } from "../contract/index.js";

/** Two looks at a page compared. */
export interface StepEvidence {
  /** Whether the documents say the same, or null where one could not be read. */
  sameDocument: boolean | null;
  /** Whether the pictures are the same to the pixel, outside the control's own place where it has one. */
  samePixels: boolean;
}

export const isSame = ({ sameDocument, samePixels }: StepEvidence): boolean => sameDocument !== false && samePixels;

/**
 * Whether an input had an effect, or null when one more clip is needed to tell.
 *
 * - A page that stood still right before the input and is another right after was changed by it.
 * - A page that moves by itself is compared with the control clip, in which it was not told of any input, as long as both were
 *   the same right before; after an earlier input had its effect they no longer are.
 * - Then only the clip without this one input can tell.
 */
export function judgeStep({
  quiet,
  answer,
  control,
  without,
}: {
  /** A moment before the input against right before it. */
  quiet: StepEvidence;
  /** Right before the input against after it. */
  answer: StepEvidence;
  /** The clip against the control clip: right before the input, and after it. */
  control?: { before: StepEvidence; after: StepEvidence } | undefined;
  /** The clip against the one without this input, after it. */
  without?: StepEvidence | undefined;
}): Extract<StepResult["effect"], "changed" | "none"> | null {
  if (isSame(quiet)) return isSame(answer) ? "none" : "changed";
  if (control && isSame(control.before)) return isSame(control.after) ? "none" : "changed";
  if (without) return isSame(without) ? "none" : "changed";
  return null;
}

/** Inputs that pages need not answer, or answer by taking the focus: nothing is concluded from them. */
export function isJudged(input: WalkthroughStep, control: string | null): boolean {
  return !("click" in input && control !== null && /^(textbox|searchbox|spinbutton|combobox)\b/.test(control));
}

/**
 * Which of the inputs that nothing tells of yet are worth a clip of their own: one of each kind that is not known to work, in
 * time order.
 *
 * @param most how many clips may be made.
 */
export function chooseControlClips(
  steps: readonly { name: string; effect: StepResult["effect"] | null }[],
  most: number,
): number[] {
  const known = new Set(steps.flatMap(({ name, effect }) => (effect === "changed" ? [name] : [])));
  const chosen: number[] = [];
  steps.forEach(({ name, effect }, index) => {
    if (effect !== null || known.has(name) || chosen.length >= most) return;
    known.add(name);
    chosen.push(index);
  });
  return chosen;
}
