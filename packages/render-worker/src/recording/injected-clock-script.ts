import { START_OF_TIME_S } from "./open-page.js";

/** The hook by which the recorder moves a document's clock on; a symbol, so that pages do not come across it. */
export const CLOCK_HOOK = 'Symbol.for("tourney.clock")';

/**
 * A clock of the recorder's own in place of the page's: Date, performance, timers, animation frames, and what the browser
 * animates by itself, which is stopped and set to each frame's time. Used where only the full browser is there, which draws
 * whenever it likes and cannot be told frame by frame.
 */
export const INJECTED_CLOCK_SCRIPT = `(() => {
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
  globalThis[${CLOCK_HOOK}] = async (untilMs) => {
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
