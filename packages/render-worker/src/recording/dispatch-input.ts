import { setTimeout as sleep } from "node:timers/promises";
import type { Target } from "@tourney/core/contract";
import * as z from "zod";
import { type Accessible, type Box, describeAccessible, findBox, findByName, listAccessible } from "./accessible.js";
import type { OpenPage } from "./open-page.js";
import { quietly } from "./probes.js";
import type { TimedInput } from "./timeline.js";

/**
 * Dispatching a mouse event waits for a frame that is not granted before it is told of as done: what is waited for instead is that
 * every thread of the browser sleeps, which is when the event has arrived. A page whose workers never sleep gets so many looks.
 */
const LOOK_EVERY_MS = 3;
const MOST_LOOKS = 20;

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

type AimedInput = Extract<TimedInput, { at: unknown }>;

/** Sends the inputs of a walkthrough to a page, and knows where the pointer is. */
export class InputSender {
  private pointer: Point = { x: 0, y: 0 };
  /** What was found for the inputs of the step that is being sent: a click goes where its pointer came to rest. */
  private readonly found = new Map<string, Accessible>();

  constructor(private readonly page: OpenPage) {}

  /** Sends one input. What is looked for by name and not there is noted in the page's log, and left out. */
  async send(input: TimedInput): Promise<Sent> {
    if ("at" in input) return this.sendAimed(input);
    switch (input.type) {
      case "unknownKey":
        this.page.watch.note(`Walkthrough: there is no key called "${input.name}".`);
        return { kind: "not_found" };
      case "key":
        await this.dispatch("Input.dispatchKeyEvent", input.event);
        break;
      case "insertText":
        await this.dispatch("Input.insertText", { text: input.text });
        break;
      case "paste":
        if (await this.paste(input.text)) await this.dispatch("Input.insertText", { text: input.text });
        break;
      case "resize": {
        const { width, height } = input.viewport;
        const metrics = { width, height, deviceScaleFactor: 1, mobile: false };
        await this.dispatch("Emulation.setDeviceMetricsOverride", metrics);
        break;
      }
      case "reload":
        await this.page.reload();
        break;
    }
    return { kind: "sent", aim: null };
  }

  private async sendAimed(input: AimedInput): Promise<Sent> {
    const from =
      input.at === "pointer" ? { point: this.pointer, control: null, box: null } : await this.aim(input.at, input);
    if (from === null) return isHover(input) ? { kind: "sent", aim: null } : { kind: "not_found" };
    const towards = "towards" in input ? input.towards : undefined;
    const to = towards === undefined ? null : await this.aim(towards.to, input);
    const point = to === null || towards === undefined ? from.point : between(from.point, to.point, towards.share);
    if (isTouch(input)) {
      const touchPoints = input.type === "touchEnd" ? [] : [point];
      await this.dispatch("Input.dispatchTouchEvent", { type: input.type, touchPoints });
    } else {
      this.pointer = point;
      await this.dispatch("Input.dispatchMouseEvent", { ...point, ...describePointer(input) });
    }
    return { kind: "sent", aim: { ...from, point } };
  }

  private async dispatch(method: string, params: object): Promise<void> {
    const sending = this.page.send(method, params).then(
      () => true,
      () => true,
    );
    for (let look = 0; look < MOST_LOOKS; look++) {
      if (await Promise.race([sending, sleep(LOOK_EVERY_MS, false)])) return;
      if (this.page.browser.meter.isAsleep()) return;
    }
  }

  /** Offers a text to the page as the clipboard's; true where the page leaves it to the browser to put it in. */
  private async paste(text: string): Promise<boolean> {
    const expression = `(() => {
      const data = new DataTransfer();
      data.setData("text/plain", ${JSON.stringify(text)});
      const event = new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true });
      return (document.activeElement ?? document.body).dispatchEvent(event);
    })()`;
    return (await quietly(this.page.probe(z.boolean(), expression))) ?? true;
  }

  private async aim(target: Target, input: AimedInput): Promise<Aim | null> {
    if ("x" in target) return { point: target, control: null, box: null };
    const sought = `${target.role ?? "anything"} named "${target.name}"`;
    const found = await this.find(target, input);
    if (found === null) {
      if (!isHover(input)) this.page.watch.note(`Walkthrough: there is no ${sought}.`);
      return null;
    }
    // A person scrolls to what is further down.
    await quietly(this.page.send("DOM.scrollIntoViewIfNeeded", { backendNodeId: found.nodeId }));
    const box = await findBox(this.page, found);
    if (box === null) {
      if (!isHover(input)) this.page.watch.note(`Walkthrough: ${sought} is not to be seen.`);
      return null;
    }
    const point = { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 };
    return { point, control: describeAccessible(found), box };
  }

  /** Looks through the whole page, which takes long on a large one, so that only the first input of a press or a drag does. */
  private async find(target: Extract<Target, { name: string }>, input: AimedInput): Promise<Accessible | null> {
    const key = JSON.stringify(target);
    const known = input.type === "mouseReleased" || isOnItsWay(input) ? this.found.get(key) : undefined;
    if (known !== undefined) return known;
    const found = findByName(await listAccessible(this.page), target);
    if (found === null) this.found.delete(key);
    else this.found.set(key, found);
    return found;
  }
}

/** Whether it is a movement between a press and its release. */
const isOnItsWay = (input: AimedInput): boolean =>
  ("isHeld" in input && (input.isHeld ?? false)) || input.type === "touchMove" || input.type === "touchEnd";

const isHover = (input: AimedInput): boolean => "isHover" in input && (input.isHover ?? false);

const isTouch = (input: AimedInput): input is Extract<TimedInput, { type: "touchStart" | "touchMove" | "touchEnd" }> =>
  input.type.startsWith("touch");

const between = (from: Point, to: Point, share: number): Point => ({
  x: from.x + (to.x - from.x) * share,
  y: from.y + (to.y - from.y) * share,
});

function describePointer(input: Exclude<AimedInput, { type: "touchStart" | "touchMove" | "touchEnd" }>): object {
  if (input.type === "mouseWheel") return { type: input.type, deltaX: input.byX, deltaY: input.byY };
  const button = input.button ?? "left";
  const isPressed = input.type !== "mouseMoved" || input.isHeld === true;
  const bit = button === "right" ? 2 : 1;
  return {
    type: input.type,
    button: isPressed ? button : "none",
    // A held button is told as such, or the page takes the movement for a hover.
    buttons: input.isHeld === true || input.type === "mousePressed" ? bit : 0,
    clickCount: input.type === "mouseMoved" ? 0 : (input.clickCount ?? 1),
  };
}
