import type { ControlResult, StepResult } from "../contract/index.js";
import { describeInput } from "./dead-controls.js";

/** Whether each of a page's controls answers, by what came of the inputs that were meant for it. */
export function judgeControls(
  controls: readonly string[],
  steps: readonly Pick<StepResult, "input" | "control" | "effect">[],
): ControlResult[] {
  const tried = new Map<string, ControlResult["state"]>();
  /** What was pressed last, and has the focus: text goes there. */
  let focused = "";
  for (const { input, control, effect } of steps) {
    if ("click" in input || "tap" in input) focused = control ?? "";
    const isText = "type" in input || "paste" in input;
    for (const name of new Set([control ?? "", describeInput(input, control), ...(isText ? [focused] : [])])) {
      if (effect === "changed") tried.set(name, "answers");
      else if (effect === "none" && !tried.has(name)) tried.set(name, "dead");
    }
  }
  return controls.map((control) => ({ control, state: tried.get(control) ?? "not_tried" }));
}

/** As in: 7 of 9 answer, 2 not tried. Null where there is nothing to be worked. */
export function describeControls(controls: readonly ControlResult[]): string | null {
  if (controls.length === 0) return null;
  const count = (state: ControlResult["state"]) => controls.filter((item) => item.state === state).length;
  const untried = count("not_tried");
  return `${count("answers")} of ${controls.length} answer${untried > 0 ? `, ${untried} not tried` : ""}`;
}
