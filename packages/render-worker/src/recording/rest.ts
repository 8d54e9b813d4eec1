import * as z from "zod";
import { WORDS } from "../browser/frame-script.js";
import type { OpenPage } from "./open-page.js";
import { type Pacing, PlayedWrongly } from "./pace.js";
import { quietly } from "./probes.js";
import { atFrame } from "./timeline.js";

/** Frames after the start, and after an input, in which every frame is drawn: what begins a little later is seen to begin. */
const BEGINNING_FRAMES = 6;
const ATTENTIVE_FRAMES = 5;
/** How many frames a page is left alone: a sixth of a second. What is laid out or begins to move meanwhile does so that much later at most. */
const RESTING_STRIDE = 10;

/** What a page is like between two frames. */
export interface Calm {
  /** How many of the frames that could be left out are. */
  leftOut: number;
  isMissed: boolean;
}

/** Asks a page between two frames, and tells it of the times, in ms from now, at which frames come that are not drawn. */
export type AskCalm = (hidden: readonly number[], showsNext: boolean) => Promise<Calm>;

/**
 * Draws a page six times a second instead of sixty where nothing needs more. Its own steps stay sixty: page time goes on, timers keep
 * their times, and who waits for a frame is called at each. CSS animations depend on the time alone, and the frame in which one ends or
 * repeats is drawn. Observers' calls, and transitions that a timer starts, wait for the next drawn frame, up to 0.17 s. Only the page decides which frames are drawn, so every recording of it draws the same ones.
 */
export class Rest {
  private attentiveUntil = BEGINNING_FRAMES;
  private busyUntil = 0;
  private shows = true;

  /** @param canLeaveOut whether the clock lets the page's time go on without a frame. */
  constructor(
    private readonly ask: AskCalm,
    private readonly pacing: Pacing,
    private readonly canLeaveOut: boolean,
  ) {}

  /**
   * The next frame to draw, after one that was drawn.
   *
   * @param isNeeded whether a frame is to be drawn in any case; isShown whether anybody sees it.
   * @throws PlayedWrongly when something was left out that should have been seen.
   */
  async next(
    frame: number,
    isNeeded: (frame: number) => boolean,
    isShown: (frame: number) => boolean,
  ): Promise<number> {
    const { stride } = this.pacing;
    let next = frame + 1;
    if (stride > 1) while (next % stride !== 0 && !isNeeded(next)) next++;
    if (!this.canLeaveOut) return next;
    const most = stride > 1 || frame < this.attentiveUntil ? next : frame + RESTING_STRIDE;
    while (frame >= this.busyUntil && next < most && !isNeeded(next)) next++;
    const shows = isShown(next);
    const hidden = stride > 1 ? [] : listBetween(frame, next);
    if (hidden.length === 0 && shows === this.shows) return next;
    const { leftOut, isMissed } = await this.ask(hidden, shows);
    if (isMissed) {
      const draws = this.pacing.draws === "seen" ? "around" : "all";
      throw new PlayedWrongly({ draws }, "The page drew nothing in a frame that was looked at");
    }
    const isWhole = leftOut === hidden.length;
    // What moves mostly goes on to move for a while.
    if (leftOut === 0 && !isWhole) this.busyUntil = frame + RESTING_STRIDE;
    this.shows = shows && isWhole;
    return isWhole ? next : frame + 1 + leftOut;
  }

  /** The page was sent something. */
  end(frame: number): void {
    this.attentiveUntil = frame + ATTENTIVE_FRAMES;
  }
}

/** Times of the frames between two, in ms from the first of them. */
const listBetween = (frame: number, next: number): number[] =>
  Array.from({ length: next - frame - 1 }, (_, i) => atFrame(frame + 1 + i) - atFrame(frame));

/** A transition may be led elsewhere at any time, and goes there from the next drawn frame on: two of three frames are left out. */
const TRANSITION_CALM_MS = 40;

/**
 * How long, in ms, nothing on the page needs a frame to be drawn: until an animation ends or begins anew. Moving pictures and other documents
 * go on by themselves.
 */
const CALM = `() => {
  if (document.querySelector("iframe, video, marquee, img[src*='.gif'], img[src*='.webp'], img[src*='.png'], img[src^='data:image/gif'], img[src^='data:image/webp']")) return 0;
  let calm = Infinity;
  for (const animation of document.getAnimations()) {
    if (animation.pending) return 0;
    if (animation instanceof CSSTransition) calm = Math.min(calm, ${TRANSITION_CALM_MS});
    if (animation.playState !== "running" || !animation.effect) continue;
    const { delay, duration, endTime, currentIteration } = animation.effect.getComputedTiming();
    const at = animation.currentTime;
    if (typeof at !== "number" || typeof duration !== "number" || duration <= 0 || animation.playbackRate <= 0) return 0;
    const turn = at < delay ? delay : Math.min(endTime, delay + ((currentIteration ?? 0) + 1) * duration);
    calm = Math.min(calm, (turn - at) / animation.playbackRate);
  }
  return calm;
}`;

const LOOK = `((hidden, showsNext) => {
  const say = (word) => !dispatchEvent(new Event(word, { cancelable: true }));
  const isMissed = say(${JSON.stringify(WORDS.isMissed)});
  const calm = hidden.length > 0 ? (${CALM})() : 0;
  const drawnAt = Math.round(document.timeline.currentTime ?? performance.now());
  const left = hidden.filter((at) => at < calm);
  const isWhole = left.length === hidden.length;
  if (left.length > 0 || !showsNext || !isWhole) say(${JSON.stringify(WORDS.hides)});
  const show = () => { if (showsNext && isWhole) say(${JSON.stringify(WORDS.shows)}); };
  left.forEach((at, index) => setTimeout(() => {
    // Of a user interface event the detail is a number that every world sees.
    dispatchEvent(new UIEvent(${JSON.stringify(WORDS.frame)}, { detail: drawnAt + at }));
    if (index === left.length - 1) show();
  }, at));
  if (left.length === 0) show();
  return { leftOut: left.length, isMissed };
})`;

const CalmAnswer = z.object({ leftOut: z.int(), isMissed: z.boolean() });

/** Asks a page in the browser. One that cannot answer is drawn in full. */
export const askCalm =
  ({ probe, watch }: OpenPage): AskCalm =>
  async (hidden, showsNext) => {
    // What a worker does takes the machine's time, not the page's: frames are not kept from it.
    const asked = watch.workers.size === 0 ? hidden : [];
    const answer = await quietly(probe(CalmAnswer, `${LOOK}(${JSON.stringify(asked)}, ${showsNext})`));
    return answer ?? { leftOut: 0, isMissed: false };
  };
