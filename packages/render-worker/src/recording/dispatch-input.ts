import { setTimeout as sleep } from "node:timers/promises";
import * as z from "zod";
import { defineKey } from "../browser/keys.js";
import type { Browser } from "../browser/launch.js";
import type { PageWatch } from "./page-watch.js";
import type { Target, TimedInput } from "./timeline.js";

/** Dispatching a mouse event waits for a frame that is not granted before it is dispatched: never await it for longer. */
const INPUT_GRACE_MS = 25;
/** How long the page may take to say what is on it. */
const LOOKUP_LIMIT_MS = 5000;

interface Page {
  pipe: Browser["pipe"];
  sessionId: string;
  watch: PageWatch;
}

interface Point {
  x: number;
  y: number;
}

/** Sends one input of a walkthrough. What is looked for by name and not there is noted in the page's log, and left out. */
export async function dispatchInput(page: Page, input: TimedInput): Promise<void> {
  const sending = await prepareInput(page, input);
  if (sending !== null) await Promise.race([sending().catch(() => undefined), sleep(INPUT_GRACE_MS)]);
}

/** Looks up where an input goes; resolves with how to send it, or null when that place is not there. */
async function prepareInput(page: Page, input: TimedInput): Promise<(() => Promise<unknown>) | null> {
  const { pipe, sessionId } = page;
  if (input.type === "insertText") return () => pipe.send("Input.insertText", { text: input.text }, sessionId);
  if ("key" in input)
    return () => pipe.send("Input.dispatchKeyEvent", { type: input.type, ...defineKey(input.key) }, sessionId);
  const from = await findPoint(page, input.at);
  const to = input.towards === undefined ? null : await findPoint(page, input.towards.to);
  if (from === null) return null;
  const point = to === null ? from : between(from, to, input.towards!.share);
  const isPressed = input.type !== "mouseMoved" || input.isHeld === true;
  return () =>
    pipe.send(
      "Input.dispatchMouseEvent",
      {
        type: input.type,
        ...point,
        button: isPressed ? "left" : "none",
        // A held button is told as such, or the page takes the movement for a hover.
        buttons: input.isHeld === true || input.type === "mousePressed" ? 1 : 0,
        clickCount: input.type === "mouseMoved" ? 0 : 1,
      },
      sessionId,
    );
}

const between = (from: Point, to: Point, share: number): Point => ({
  x: from.x + (to.x - from.x) * share,
  y: from.y + (to.y - from.y) * share,
});

const AxTree = z.object({
  nodes: z.array(
    z.object({
      ignored: z.boolean().optional(),
      role: z.object({ value: z.string() }).optional(),
      name: z.object({ value: z.coerce.string() }).optional(),
      backendDOMNodeId: z.int().optional(),
    }),
  ),
});
const BoxModel = z.object({ model: z.object({ content: z.array(z.number()).length(8) }) });

async function findPoint({ pipe, sessionId, watch }: Page, target: Target): Promise<Point | null> {
  if ("x" in target) return target;
  const sought = `${target.role ?? "anything"} named "${target.name}"`;
  try {
    const tree = AxTree.parse(await pipe.send("Accessibility.getFullAXTree", {}, sessionId, LOOKUP_LIMIT_MS));
    const wanted = target.name.toLowerCase();
    const nodes = tree.nodes.filter(
      ({ ignored, role, name, backendDOMNodeId }) =>
        ignored !== true &&
        backendDOMNodeId !== undefined &&
        role?.value !== "StaticText" &&
        role?.value !== "InlineTextBox" &&
        (target.role === undefined || role?.value.toLowerCase() === target.role.toLowerCase()) &&
        (name?.value ?? "").toLowerCase().includes(wanted),
    );
    const exact = nodes.find(({ name }) => name?.value.toLowerCase() === wanted) ?? nodes[0];
    if (exact === undefined) {
      watch.note(`Walkthrough: there is no ${sought}.`);
      return null;
    }
    const box = BoxModel.parse(
      await pipe.send("DOM.getBoxModel", { backendNodeId: exact.backendDOMNodeId }, sessionId, LOOKUP_LIMIT_MS),
    );
    const [left, top, , , right, bottom] = box.model.content as [number, number, number, number, number, number];
    return { x: (left + right) / 2, y: (top + bottom) / 2 };
  } catch {
    watch.note(`Walkthrough: ${sought} is not to be seen.`);
    return null;
  }
}
