import { FRAME_SCRIPT } from "./frame-script.js";
import { webglScript } from "./webgl-script.js";

/** Random numbers that are the same in every recording. */
const seedScript = (seed: number): string => `  let state = ${seed >>> 0};
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return (t ^ (t >>> 14)) >>> 0;
  };
  Math.random = () => next() / 4294967296;
  const round = Math.round;
  if (globalThis.Crypto) {
    Crypto.prototype.getRandomValues = function (array) {
      const bytes = new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
      for (let i = 0; i < bytes.length; i++) bytes[i] = next() & 255;
      return array;
    };
    Crypto.prototype.randomUUID = function () {
      const hex = Array.from({ length: 32 }, () => (next() & 15).toString(16));
      hex[12] = "4";
      hex[16] = "89ab"[next() & 3];
      const text = hex.join("");
      return [text.slice(0, 8), text.slice(8, 12), text.slice(12, 16), text.slice(16, 20), text.slice(20)].join("-");
    };
  }
`;

/**
 * Runs in every document before its own scripts: seeds Math.random and crypto, and rounds the clocks that Chromium
 * jitters by 0.1 ms to whole milliseconds, so that two recordings agree. Where time stands still while a script runs, a script
 * that waits by asking for the time again and again is told of a millisecond more for every thousand times it asks.
 *
 * @param isVirtual whether the browser's time stands still while a script runs.
 * @param drawsAll whether WebGL draws in frames that nobody sees.
 *
 * Written as text because it runs in the page, not here.
 */
export function pageScript(seed: number, { isVirtual, drawsAll }: { isVirtual: boolean; drawsAll: boolean }): string {
  return `(() => {
${seedScript(seed)}  const now = Performance.prototype.now;
  let stoodAt = 0, asked = 0, ahead = 0;
  const goOn = (at) => {
    if (!${isVirtual}) return 0;
    if (at !== stoodAt) { ahead = Math.max(0, ahead - (at - stoodAt)); stoodAt = at; asked = 0; }
    else if (++asked % 1000 === 0) ahead++;
    return ahead;
  };
  Performance.prototype.now = function () { const at = round(now.call(this)); return at + goOn(at); };
  const RealDate = Date;
  const dateNow = () => { const at = RealDate.now(); return at + goOn(round(now.call(performance))); };
  globalThis.Date = new Proxy(RealDate, {
    construct: (target, args, newTarget) => Reflect.construct(target, args.length === 0 ? [dateNow()] : args, newTarget),
    apply: () => new RealDate(dateNow()).toString(),
    get: (target, key) => key === "now" ? dateNow : Reflect.get(target, key),
  });
  RealDate.prototype.constructor = globalThis.Date;
  // As in a voter's frame, which has no origin.
  const { ServiceWorkerContainer: container } = globalThis;
  if (container) container.prototype.register = () => Promise.reject(new DOMException("Service workers are disabled here.", "SecurityError"));
${webglScript(drawsAll)}${FRAME_SCRIPT}  const stamp = Object.getOwnPropertyDescriptor(Event.prototype, "timeStamp");
  if (stamp) Object.defineProperty(Event.prototype, "timeStamp", { ...stamp, get() { return round(stamp.get.call(this)); } });
  if (globalThis.AnimationTimeline) {
    const time = Object.getOwnPropertyDescriptor(AnimationTimeline.prototype, "currentTime");
    if (time && time.get) {
      Object.defineProperty(AnimationTimeline.prototype, "currentTime", {
        ...time,
        get() { const value = time.get.call(this); return typeof value === "number" ? hiddenAt ?? round(value) : value; },
      });
    }
  }
})();`;
}

/** A span of page time in which the page is not told of keys and clicks. */
export interface MutedSpan {
  fromMs: number;
  toMs: number;
  /** Whether it is not told of the pointer's movements either. */
  isMove?: boolean;
}

/**
 * Runs in a world of the recorder's own in every document, before the page's scripts, which cannot reach it.
 * - Native pickers are kept shut: each is drawn in a window of its own, which gets no frames, and the page would wait for it
 *   for ever.
 * - In the spans that are muted, keys and clicks reach neither the page's listeners nor what the browser does by itself, while
 *   hover and focus stay: what then differs from the clip that is not muted was done by the page in answer to the input.
 */
export function guardScript(muted: readonly MutedSpan[], startMs: number): string {
  return `(() => {
  const spans = ${JSON.stringify(muted)};
  const now = Date.now.bind(Date);
  const isMuted = (moves) => {
    // Where the page's clock is not the browser's, the recorder says what it is.
    const at = globalThis.tourneyNowMs ?? now() - ${startMs};
    return spans.some(({ fromMs, toMs, isMove }) => at >= fromMs && at < toMs && (!moves || isMove));
  };
  // First, since what is muted below is not told to anybody after it.
  const opensPicker = (element) => element instanceof Element &&
    element.closest("select:not([multiple]):not([size]), input[type=color], input[type=date], input[type=time], input[type=month], input[type=week], input[type=datetime-local], input[type=file]");
  const keep = (event) => {
    const element = opensPicker(event.target);
    if (!element) return;
    if (event.type === "keydown" && !["Enter", " ", "F4"].includes(event.key) && !event.altKey) return;
    event.preventDefault();
    if (event.type === "mousedown") element.focus();
  };
  addEventListener("mousedown", keep, true);
  addEventListener("click", keep, true);
  addEventListener("keydown", keep, true);
  if (spans.some(({ isMove }) => isMove)) {
    for (const type of ["pointermove", "mousemove", "pointerover", "mouseover", "pointerenter", "mouseenter", "pointerrawupdate"])
      addEventListener(type, (event) => { if (isMuted(true)) event.stopImmediatePropagation(); }, true);
  }
  if (spans.length > 0) {
    for (const type of ["pointerdown", "pointerup", "mousedown", "mouseup"])
      addEventListener(type, (event) => { if (isMuted()) event.stopImmediatePropagation(); }, true);
    for (const type of ["click", "dblclick", "auxclick", "keydown", "keypress", "keyup", "beforeinput", "input", "wheel"])
      addEventListener(type, (event) => {
        if (!isMuted()) return;
        event.stopImmediatePropagation();
        event.preventDefault();
      }, { capture: true, passive: false });
  }
})();`;
}
