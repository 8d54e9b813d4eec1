import type { StressTest } from "@tourney/core/contract";
import { BLANK_CONTENT_SHARE } from "@tourney/core/page";
import { contentShare } from "@tourney/core/image";
import * as z from "zod";
import { type Accessible, describeAccessible } from "./accessible.js";
import type { Clip, RecordDeps } from "./clip.js";
import type { FrameClock } from "./frame-clock.js";
import { openClock } from "./open-clock.js";
import type { OpenPage } from "./open-page.js";
import { readControls } from "./page-controls.js";
import { decodePicture } from "./pictures.js";
import { readLayout } from "./probes.js";
import { askCalm } from "./rest.js";
import { atFrame } from "./timeline.js";

/** Processor time for each of the two parts: a heavy page gets less far in it. */
const BUDGET_MS = 20_000;
/** Until the page has begun, and at each level before it is measured. */
const BEGIN_FRAMES = 60;
const SETTLE_FRAMES = 12;
const MEASURED_FRAMES = 48;
/** Shares of a control's range, and presses of a button. */
const SHARES = [0, 0.25, 0.5, 0.75, 1];
const PRESSES = [0, 4, 16, 64, 256];
/** Left alone for three minutes of page time, drawn twice a second, measured every fifteen. */
const SOAK_FRAMES = 180 * 60;
const SOAK_STRIDE = 30;
const SAMPLE_FRAMES = 15 * 60;

const COUNTS =
  /count|number|amount|how many|particle|boid|ball|bird|fish|star|drop|cell|dot|node|point|item|size|density|population|quantity|length|level/i;
const ADDS = /^(?:\+|add|new|spawn|drop|more|create|insert|plus|another)/i;

type Levels = Pick<StressTest, "control" | "levels" | "isCutShort">;

/**
 * Turns a page's load up, step by step to the end of the control that sets it, and leaves the page alone for minutes: what goes wrong only
 * with much to do, or late. Each in a page of its own, with every frame given to it.
 */
export async function makeStressTest(plan: Clip["plan"], deps: RecordDeps): Promise<StressTest> {
  const levels = await inPage<Levels>(plan, deps, turnUp, { control: null, levels: [], isCutShort: true });
  const soak = await inPage<StressTest["soak"]>(plan, deps, leaveAlone, null);
  return { ...levels, soak };
}

interface Tested {
  plan: Clip["plan"];
  page: OpenPage;
  clock: FrameClock;
  meter: Meter;
}

/** What a page can make of a test that it does not last is what it made until then: nothing of it decides about the page. */
async function inPage<T extends Levels | StressTest["soak"]>(
  plan: Clip["plan"],
  deps: RecordDeps,
  test: (tested: Tested, soFar: T) => Promise<T>,
  soFar: T,
): Promise<T> {
  const browser = deps.browsers.take();
  let isSound = false;
  try {
    const clip: Clip = {
      plan,
      pacing: { stride: 1, draws: "all" },
      film: false,
      looksAt: () => false,
      probes: false,
    };
    const { page, clock } = await openClock(browser, deps, clip);
    await clock.begin();
    const meter = new Meter(page);
    const result = await test({ plan, page, clock, meter }, soFar);
    isSound = await page.close();
    return result;
  } catch (error) {
    deps.errors(`The stress test ended early: ${String(error)}`);
    return soFar;
  } finally {
    await deps.browsers.giveBack(browser, isSound);
  }
}

/** What a page takes between two looks. */
class Meter {
  private exceptions = 0;
  private spentMs: number;
  private readonly sinceMs: number;

  constructor(private readonly page: OpenPage) {
    this.spentMs = this.sinceMs = page.browser.meter.measureCpuMs();
  }

  get isSpent(): boolean {
    return this.page.browser.meter.measureCpuMs() - this.sinceMs > BUDGET_MS;
  }

  begin(): void {
    this.spentMs = this.page.browser.meter.measureCpuMs();
  }

  /** @param frames that went by since the last look. */
  async read(frames: number): Promise<{ frameMs: number; heapMb: number; exceptions: number }> {
    const spentMs = this.page.browser.meter.measureCpuMs();
    const { usedSize } = z.object({ usedSize: z.number() }).parse(await this.page.send("Runtime.getHeapUsage"));
    const all = this.page.watch.log.filter(({ source }) => source === "exception").length;
    const read = {
      frameMs: (spentMs - this.spentMs) / frames,
      heapMb: usedSize / 1e6,
      exceptions: all - this.exceptions,
    };
    this.spentMs = spentMs;
    this.exceptions = all;
    return read;
  }
}

/** Draws frames one by one. @returns the last. */
async function draw({ page, clock }: Tested, from: number, count: number): Promise<number> {
  for (let k = from + 1; k <= from + count; k++) {
    page.watch.nowMs = atFrame(k - 1);
    await page.watch.requests.settle();
    await clock.advance(k, { from: k - 1, picture: false, shows: false });
  }
  return from + count;
}

async function turnUp(tested: Tested, soFar: Levels): Promise<Levels> {
  const { page, plan, meter } = tested;
  let frame = await draw(tested, 0, BEGIN_FRAMES);
  const { named } = await readControls(page, plan.viewport);
  const control = chooseLoad(named);
  soFar.control = control === null ? null : describeAccessible(control);
  const isRange = control !== null && control.role !== "button";
  const objectId = control === null ? null : await hold(page, control);
  await meter.read(1);
  let pressed = 0;
  for (const step of control === null ? [0] : isRange ? SHARES : PRESSES) {
    const load =
      objectId === null
        ? "as it is"
        : isRange
          ? await setValue(page, objectId, step)
          : await press(page, objectId, step, step - pressed);
    pressed = step;
    frame = await draw(tested, frame, SETTLE_FRAMES);
    meter.begin();
    frame = await draw(tested, frame, MEASURED_FRAMES);
    soFar.levels.push({ load, ...(await meter.read(MEASURED_FRAMES)) });
    if (meter.isSpent) return soFar;
  }
  return { ...soFar, isCutShort: false };
}

/** What sets how much a page has to do: a range with a name that speaks of it, else any, else a button that adds. */
export function chooseLoad(named: readonly (Accessible & { isDisabled: boolean })[]): Accessible | null {
  const there = named.filter(({ isDisabled }) => !isDisabled);
  const ranges = there.filter(({ role }) => role === "slider" || role === "spinbutton");
  return (
    ranges.find(({ name }) => COUNTS.test(name)) ??
    there.find(({ role, name }) => role === "button" && ADDS.test(name.trim())) ??
    ranges[0] ??
    null
  );
}

async function hold(page: OpenPage, { nodeId }: Accessible): Promise<string> {
  return z
    .object({ object: z.object({ objectId: z.string() }) })
    .parse(await page.send("DOM.resolveNode", { backendNodeId: nodeId })).object.objectId;
}

async function call(page: OpenPage, objectId: string, functionDeclaration: string, value: number): Promise<string> {
  const called = { objectId, functionDeclaration, arguments: [{ value }], returnByValue: true };
  const answer = z.object({ result: z.object({ value: z.coerce.string() }) });
  return answer.parse(await page.send("Runtime.callFunctionOn", called)).result.value;
}

/** As a person would leave it: the value through the element's own setter, which every library sees. */
const SET_VALUE = `function (share) {
  const number = (text, other) => text === "" || text === null || Number.isNaN(Number(text)) ? other : Number(text);
  const isInput = this instanceof HTMLInputElement;
  const min = isInput ? number(this.min, 0) : number(this.getAttribute("aria-valuemin"), 0);
  const max = isInput ? number(this.max, this.type === "range" ? 100 : Math.max(1000, 10 * number(this.value, 1))) : number(this.getAttribute("aria-valuemax"), 100);
  if (!isInput) return String(this.getAttribute("aria-valuenow"));
  const value = String(Math.round((min + (max - min) * share) * 1000) / 1000);
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(this, value);
  this.dispatchEvent(new Event("input", { bubbles: true }));
  this.dispatchEvent(new Event("change", { bubbles: true }));
  return this.value;
}`;
const setValue = (page: OpenPage, objectId: string, share: number): Promise<string> =>
  call(page, objectId, SET_VALUE, share);

const CLICK = `function (times) { for (let i = 0; i < times; i++) this.click(); return ""; }`;
async function press(page: OpenPage, objectId: string, all: number, times: number): Promise<string> {
  await call(page, objectId, CLICK, times);
  return all === 0 ? "as it is" : `${all} presses`;
}

async function leaveAlone(tested: Tested): Promise<StressTest["soak"]> {
  const { page, clock, meter } = tested;
  const ask = askCalm(page);
  const samples: NonNullable<StressTest["soak"]>["samples"] = [];
  let frame = await draw(tested, 0, SETTLE_FRAMES);
  let sampled = frame;
  while (frame < SOAK_FRAMES && !meter.isSpent) {
    const hidden = Array.from({ length: SOAK_STRIDE - 1 }, (_, i) => atFrame(frame + 1 + i) - atFrame(frame));
    const { leftOut } = await ask(hidden, false);
    const next = frame + 1 + leftOut;
    page.watch.nowMs = atFrame(frame);
    await page.watch.requests.settle();
    await clock.advance(next, { from: frame, picture: false, shows: false });
    frame = next;
    if (frame - sampled < SAMPLE_FRAMES && frame < SOAK_FRAMES) continue;
    samples.push({ atMs: atFrame(frame), ...(await meter.read(frame - sampled)) });
    sampled = frame;
  }
  if (frame > sampled) samples.push({ atMs: atFrame(frame), ...(await meter.read(frame - sampled)) });
  const layout = await readLayout(page);
  await ask([], true);
  await clock.advance(frame + 1, { from: frame, picture: false, shows: true });
  const { picture } = await clock.advance(frame + 2, { from: frame + 1, picture: true, shows: false });
  return {
    samples,
    wrongWords: [...new Set(layout?.wrongWords ?? [])],
    isEmpty: picture !== null && contentShare(await decodePicture(picture)) < BLANK_CONTENT_SHARE,
  };
}
