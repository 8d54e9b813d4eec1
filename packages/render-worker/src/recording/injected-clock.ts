import { setTimeout as sleep } from "node:timers/promises";
import * as z from "zod";
import { CdpTimeout } from "../browser/cdp-pipe.js";
import type { FrameClock } from "./frame-clock.js";
import { type OpenPage, START_OF_TIME_S } from "./open-page.js";
import { HOST_ADDRESS } from "./serve-page.js";
import { atFrame } from "./timeline.js";
import type { Viewport } from "@tourney/core/contract";

const LOAD_LIMIT_MS = 15_000;
/** The hook by which the recorder moves a document's clock on; a symbol, so that pages do not come across it. */
const HOOK = 'Symbol.for("tourney.clock")';

/**
 * A clock of the recorder's own in place of the page's: Date, performance, timers, animation frames, and what the browser
 * animates by itself, which is stopped and set to each frame's time. Used where only the full browser is there, which draws
 * whenever it likes and cannot be told frame by frame.
 */
export function injectedClockScript(): string {
  return `(() => {
  const START = ${START_OF_TIME_S * 1000};
  let nowMs = 0, lastId = 0;
  const timers = new Map();
  let frames = new Map();
  const RealDate = Date;
  const Clock = function Date(...args) {
    if (!new.target) return new RealDate(START + nowMs).toString();
    return Reflect.construct(RealDate, args.length === 0 ? [START + nowMs] : args, new.target === Clock ? RealDate : new.target);
  };
  Clock.prototype = RealDate.prototype;
  Object.setPrototypeOf(Clock, RealDate);
  Clock.now = () => START + nowMs;
  Clock.prototype.constructor = Clock;
  globalThis.Date = Clock;
  Performance.prototype.now = () => nowMs;
  const run = (callback, args) => {
    try {
      if (typeof callback === "function") callback.apply(globalThis, args);
      else (0, eval)(String(callback));
    } catch (error) { reportError(error); }
  };
  const add = (callback, delay, args, every) => {
    const id = ++lastId;
    const wait = Math.max(Number(delay) || 0, every ? 4 : 0);
    timers.set(id, { callback, args, dueMs: nowMs + wait, every: every ? wait : null });
    return id;
  };
  globalThis.setTimeout = (callback, delay, ...args) => add(callback, delay, args, false);
  globalThis.setInterval = (callback, delay, ...args) => add(callback, delay, args, true);
  globalThis.clearTimeout = globalThis.clearInterval = (id) => { timers.delete(id); };
  globalThis.requestAnimationFrame = (callback) => { const id = ++lastId; frames.set(id, callback); return id; };
  globalThis.cancelAnimationFrame = (id) => { frames.delete(id); };
  globalThis.requestIdleCallback = (callback) => add(() => callback({ didTimeout: false, timeRemaining: () => 10 }), 1, [], false);
  globalThis.cancelIdleCallback = (id) => { timers.delete(id); };
  Object.defineProperty(Event.prototype, "timeStamp", { get: () => nowMs, configurable: true });
  const begun = new WeakMap();
  const holdAnimations = () => {
    for (const animation of document.getAnimations?.() ?? []) {
      if (!begun.has(animation)) {
        if (animation.playState === "paused") continue;
        begun.set(animation, nowMs - (Number(animation.currentTime) > 40 ? Number(animation.currentTime) : 0));
        animation.pause();
      }
      animation.currentTime = (nowMs - begun.get(animation)) * animation.playbackRate;
      const end = animation.effect?.getComputedTiming().endTime;
      if (typeof end === "number" && Number.isFinite(end) && animation.currentTime >= end) animation.finish();
    }
    for (const svg of document.querySelectorAll("svg")) {
      if (typeof svg.pauseAnimations !== "function" || svg.ownerSVGElement) continue;
      svg.pauseAnimations();
      svg.setCurrentTime(nowMs / 1000);
    }
  };
  globalThis[${HOOK}] = async (untilMs) => {
    for (let steps = 0; steps < 10000; steps++) {
      let next = null;
      for (const [id, timer] of timers) if (timer.dueMs <= untilMs && (next === null || timer.dueMs < next[1].dueMs)) next = [id, timer];
      if (next === null) break;
      const [id, timer] = next;
      nowMs = Math.max(nowMs, timer.dueMs);
      if (timer.every === null) timers.delete(id);
      else timer.dueMs = nowMs + timer.every;
      run(timer.callback, timer.args);
      await null;
    }
    nowMs = untilMs;
    holdAnimations();
    const due = frames;
    frames = new Map();
    for (const callback of due.values()) run(callback, [nowMs]);
    holdAnimations();
    return true;
  };
})();`;
}

/** The clock of \`injectedClockScript\`, moved on by calls into the entry's document. */
export async function createInjectedClock(
  { browser, sessionId, send, watch }: OpenPage,
  { viewport, frameLimitMs }: { viewport: Viewport; frameLimitMs: number },
): Promise<FrameClock> {
  await send("Emulation.setDeviceMetricsOverride", { ...viewport, deviceScaleFactor: 1, mobile: false });
  const contexts = new Map<string, number>();
  const Created = z.object({
    context: z.object({ id: z.int(), auxData: z.looseObject({ frameId: z.string().optional(), isDefault: z.boolean().optional() }).optional() }),
  });
  browser.pipe.listen(({ method, params, sessionId: from }) => {
    if (method !== "Runtime.executionContextCreated" || from !== sessionId) return;
    const { context } = Created.parse(params);
    if (context.auxData?.isDefault === true && context.auxData.frameId !== undefined)
      contexts.set(context.auxData.frameId, context.id);
  });
  let phase: FrameClock["phase"] = "timer";
  const waitForDocument = async () => {
    const until = performance.now() + LOAD_LIMIT_MS;
    // The document and what it asks for before it runs: there is no virtual time that would wait for them.
    while (watch.stageFrameId === null || !contexts.has(watch.stageFrameId)) {
      if (performance.now() > until) throw new CdpTimeout("The document did not begin");
      await sleep(10);
    }
    for (let i = 0; i < 20; i++) {
      await watch.answerHeld();
      await sleep(10);
    }
  };
  return {
    kind: "injected",
    get phase() {
      return phase;
    },
    async begin() {
      watch.holdsRequests = true;
      await send("Page.navigate", { url: HOST_ADDRESS });
      await waitForDocument();
    },
    async advance(k, { picture }) {
      phase = "timer";
      const contextId = contexts.get(watch.stageFrameId!);
      await send(
        "Runtime.evaluate",
        { expression: `globalThis[${HOOK}](${atFrame(k)})`, contextId, awaitPromise: true },
        frameLimitMs,
      );
      if (!picture) return { picture: null, isNew: true };
      phase = "frame";
      const { data } = z
        .object({ data: z.string() })
        .parse(await send("Page.captureScreenshot", { format: "png", optimizeForSpeed: true }, frameLimitMs));
      return { picture: data, isNew: true };
    },
  };
}
