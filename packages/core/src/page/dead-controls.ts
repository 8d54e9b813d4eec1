import { KINDS, listTargets, type WalkthroughStep } from "../contract/index.js";
import type { Found, Observed } from "./observed.js";

/** An input in a person's words, the same for every time it is made. */
export function describeInput(input: WalkthroughStep, control: string | null): string {
  if ("key" in input) return `key ${input.key}`;
  if ("type" in input) return `typing “${input.type}”`;
  if ("paste" in input) return `pasting “${input.paste.slice(0, 60)}”`;
  if ("click" in input) {
    const at = control ?? `a click at ${place(input.click)}`;
    return input.with === undefined ? at : `${at} (${input.with} click)`;
  }
  if ("tap" in input) return control ?? `a tap at ${place(input.tap)}`;
  if ("swipe" in input) return `a swipe from ${place(input.swipe.from)}`;
  if ("reload" in input) return "loading it again";
  if ("drag" in input) return control ?? `a drag from ${place(input.drag.from)}`;
  if ("move" in input) return `moving to ${place(input.move)}`;
  if ("wheel" in input) return "the wheel";
  return `a window of ${input.resize.width} × ${input.resize.height}`;
}

const place = (target: { x: number; y: number } | { name: string }): string =>
  "x" in target ? `${Math.round(target.x)}, ${Math.round(target.y)}` : `“${target.name}”`;

/** Inputs that a page owes no answer to. */
const OWED = (input: WalkthroughStep): boolean =>
  ["key", "click", "drag", "type", "paste", "tap", "swipe"].some((name) => name in input);

/** A place that was tried because something listens there: what is pressed or drawn there need not be where it was tried. */
const isByChance = ({ input, origin }: Observed["steps"][number]): boolean =>
  origin === "default" && (("click" in input && "x" in input.click) || ("drag" in input && "x" in input.drag.from));

/** What the suite's inputs are meant for and is not there: by name or role, each once. */
export function findMissingControls({ steps, outcome }: Observed): Found[] {
  if (outcome !== "ok") return [];
  const missing = new Map<string, number>();
  for (const { input, effect, atMs } of steps) {
    const sought = effect === "not_found" ? listSought(input)[0] : undefined;
    if (sought !== undefined && !missing.has(sought)) missing.set(sought, atMs);
  }
  return [...missing].map(([sought, atMs]) => ({
    rule: "missing_control",
    severity: "warning",
    message: `There is no ${sought}`,
    atMs,
    evidence: "An input of the walkthrough looks for it by its accessible name",
  }));
}

const listSought = (input: WalkthroughStep): string[] =>
  listTargets(input).flatMap(({ target }) =>
    "name" in target ? [`${target.role ?? "control"} called “${target.name}”`] : [],
  );

/**
 * Controls that did nothing: neither the document nor the pixels differ from the same clip without the input. One that
 * answered once is not dead. When nothing of what was tried had an effect, that is one graver finding.
 */
export function findDeadControls({ steps, outcome, controls, kind }: Observed): Found[] {
  if (outcome !== "ok") return [];
  const mustBeWorked = kind !== null && KINDS[kind].triedInputs === "keys";
  if (mustBeWorked && steps.length === 0 && controls?.length === 0) {
    return [
      {
        rule: "dead_control",
        severity: "error",
        message: "Nothing can be worked",
        atMs: null,
        evidence: "No script listens for a key or a pointer, and there is no control",
      },
    ];
  }
  const judged = steps.filter(
    (step) => OWED(step.input) && (step.effect === "changed" || (step.effect === "none" && !isByChance(step))),
  );
  const byName = new Map<string, { atMs: number; answered: boolean; times: number; origin: string }>();
  for (const { input, control, effect, atMs, origin } of judged) {
    const name = describeInput(input, control);
    const known = byName.get(name) ?? { atMs, answered: false, times: 0, origin };
    byName.set(name, { ...known, answered: known.answered || effect === "changed", times: known.times + 1 });
  }
  const dead = [...byName].filter(([, { answered }]) => !answered);
  if (dead.length === 0) return [];
  const evidence = "Document and pixels are those of the clip without it";
  // What follows the pointer answers, though it owes that nobody.
  const follows = steps.some(({ input, effect }) => "move" in input && effect === "changed");
  if (dead.length === byName.size && dead.length > 1 && !follows) {
    return [
      {
        rule: "dead_control",
        severity: "error",
        message: `Nothing answers: ${dead.map(([name]) => name).join(", ")}`.slice(0, 300),
        atMs: dead[0]![1].atMs,
        evidence,
      },
    ];
  }
  return dead.map(([name, { atMs, origin }]) => ({
    rule: "dead_control",
    // What the suite says a page is driven by matters more than what was tried on the off chance.
    severity: origin === "prompt" || !name.startsWith("key ") ? "warning" : "note",
    message: `${name[0]!.toUpperCase()}${name.slice(1)} does nothing`,
    atMs,
    evidence,
  }));
}
