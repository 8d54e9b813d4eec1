import { setTimeout as sleep } from "node:timers/promises";
import type { Target } from "@tourney/core/contract";
import { defineKey } from "../browser/keys.js";
import { type Box, describeAccessible, findBox, findByName, listAccessible } from "./accessible.js";
import type { OpenPage } from "./open-page.js";
import type { TimedInput } from "./timeline.js";

/** Dispatching a mouse event waits for a frame that is not granted before it is dispatched: never await it for longer. */
const INPUT_GRACE_MS = 25;

interface Point {
  x: number;
  y: number;
}

/** Where an input went. */
export interface Aim {
  point: Point;
  /** What is there, if it was found by its name. */
  control: string | null;
  box: Box | null;
}

export type Sent = { kind: "sent"; aim: Aim | null } | { kind: "not_found" };

/** Sends the inputs of a walkthrough to a page, and knows where the pointer is. */
export class InputSender {
  private pointer: Point = { x: 0, y: 0 };

  constructor(private readonly page: OpenPage) {}

  /** Sends one input. What is looked for by name and not there is noted in the page's log, and left out. */
  async send(input: TimedInput): Promise<Sent> {
    if (!("at" in input)) {
      await this.dispatch(...describePlain(input));
      return { kind: "sent", aim: null };
    }
    const from =
      input.at === "pointer" ? { point: this.pointer, control: null, box: null } : await this.aim(input.at, input);
    if (from === null) return isHover(input) ? { kind: "sent", aim: null } : { kind: "not_found" };
    const towards = "towards" in input ? input.towards : undefined;
    const to = towards === undefined ? null : await this.aim(towards.to, input);
    const point = to === null || towards === undefined ? from.point : between(from.point, to.point, towards.share);
    this.pointer = point;
    await this.dispatch("Input.dispatchMouseEvent", { ...point, ...describePointer(input) });
    return { kind: "sent", aim: { ...from, point } };
  }

  private async dispatch(method: string, params: object): Promise<void> {
    const sending = this.page.send(method, params).catch(() => undefined);
    await Promise.race([sending, sleep(INPUT_GRACE_MS)]);
  }

  private async aim(target: Target, input: TimedInput): Promise<Aim | null> {
    if ("x" in target) return { point: target, control: null, box: null };
    const sought = `${target.role ?? "anything"} named "${target.name}"`;
    const found = findByName(await listAccessible(this.page), target);
    if (found === null) {
      if (!isHover(input)) this.page.watch.note(`Walkthrough: there is no ${sought}.`);
      return null;
    }
    const box = await findBox(this.page, found);
    if (box === null) {
      if (!isHover(input)) this.page.watch.note(`Walkthrough: ${sought} is not to be seen.`);
      return null;
    }
    const point = { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 };
    return { point, control: describeAccessible(found), box };
  }
}

const isHover = (input: TimedInput): boolean => "isHover" in input && input.isHover;

const between = (from: Point, to: Point, share: number): Point => ({
  x: from.x + (to.x - from.x) * share,
  y: from.y + (to.y - from.y) * share,
});

function describePlain(input: Exclude<TimedInput, { at: unknown }>): [method: string, params: object] {
  if (input.type === "insertText") return ["Input.insertText", { text: input.text }];
  if (input.type === "resize") {
    const { width, height } = input.viewport;
    return ["Emulation.setDeviceMetricsOverride", { width, height, deviceScaleFactor: 1, mobile: false }];
  }
  return ["Input.dispatchKeyEvent", { type: input.type, ...defineKey(input.key) }];
}

function describePointer(input: Extract<TimedInput, { at: unknown }>): object {
  if (input.type === "mouseWheel") return { type: input.type, deltaX: input.byX, deltaY: input.byY };
  const isPressed = input.type !== "mouseMoved" || input.isHeld === true;
  return {
    type: input.type,
    button: isPressed ? "left" : "none",
    // A held button is told as such, or the page takes the movement for a hover.
    buttons: input.isHeld === true || input.type === "mousePressed" ? 1 : 0,
    clickCount: input.type === "mouseMoved" ? 0 : 1,
  };
}
