import type { RecordingPlan, Viewport, WalkthroughStep } from "@tourney/core/contract";
import { type Accessible, findBox, listAccessible } from "./accessible.js";
import type { OpenPage } from "./open-page.js";

/** Roles of what a person would try on an application. */
const TRIED = new Set([
  "button",
  "checkbox",
  "switch",
  "radio",
  "tab",
  "menuitem",
  "option",
  "link",
  "textbox",
  "searchbox",
  "spinbutton",
  "combobox",
  "slider",
]);
const TEXT_ROLES = new Set(["textbox", "searchbox", "spinbutton"]);
/** When a page may be taken to have laid itself out. */
export const DISCOVERY_MS = 800;
const FIRST_INPUT_MS = 1200;
/** Between two inputs, so that the effect of each is seen by itself. */
const SPACING_MS = 650;
const MOST_CONTROLS = 12;

/** The inputs to try on a game that nobody wrote any for: the keys that games are played by, then a click into the middle. */
export function planGame({
  viewport: { width, height },
  seconds,
}: Pick<RecordingPlan, "viewport" | "seconds">): WalkthroughStep[] {
  const keys = ["ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown", "Space"];
  const middle = { x: Math.round(width / 2), y: Math.round(height / 2) };
  const steps: WalkthroughStep[] = [
    { atMs: 600, click: middle },
    ...keys.map((key, i) => ({ atMs: 1300 + i * 800, key, holdMs: 300 })),
  ];
  return steps.filter(({ atMs }) => atMs + 500 <= seconds * 1000);
}

/** The inputs to try on an application that nobody wrote any for: each control in sight once, as far as the clip lasts. */
export async function planApp(
  page: OpenPage,
  { viewport, seconds }: Pick<RecordingPlan, "viewport" | "seconds">,
): Promise<WalkthroughStep[]> {
  const steps: WalkthroughStep[] = [];
  const seen = new Set<string>();
  let atMs = FIRST_INPUT_MS;
  for (const control of await listAccessible(page)) {
    const key = `${control.role} ${control.name}`;
    if (!TRIED.has(control.role) || control.isDisabled || seen.has(key)) continue;
    if (seen.size >= MOST_CONTROLS || atMs + SPACING_MS > seconds * 1000) break;
    const box = await findBox(page, control);
    if (box === null || !isInSight(box, viewport)) continue;
    seen.add(key);
    const added = tryControl(control, { atMs, box });
    steps.push(...added);
    atMs += SPACING_MS * added.length;
  }
  return steps;
}

function isInSight(box: { left: number; top: number; right: number; bottom: number }, viewport: Viewport): boolean {
  const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  return (
    box.right - box.left >= 4 &&
    box.bottom - box.top >= 4 &&
    x > 0 &&
    y > 0 &&
    x < viewport.width &&
    y < viewport.height
  );
}

interface Place {
  atMs: number;
  box: { left: number; top: number; right: number; bottom: number };
}

function tryControl({ role, name }: Accessible, { atMs, box }: Place): WalkthroughStep[] {
  const middle = { x: Math.round((box.left + box.right) / 2), y: Math.round((box.top + box.bottom) / 2) };
  const click: WalkthroughStep = { atMs, click: name === "" ? middle : { role, name } };
  if (TEXT_ROLES.has(role)) {
    return [click, { atMs: atMs + SPACING_MS, type: role === "spinbutton" ? "2" : "a" }];
  }
  // A list that opens is drawn in a window of its own, which is kept shut; the arrow keys choose from it as well.
  if (role === "combobox") return [click, { atMs: atMs + SPACING_MS, key: "ArrowDown", holdMs: 0 }];
  if (role === "slider") {
    const point = { x: Math.round(box.left + (box.right - box.left) * 0.75), y: middle.y };
    return [{ atMs, click: point }];
  }
  return [click];
}
