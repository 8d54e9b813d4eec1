import { setTimeout as sleep } from "node:timers/promises";
import * as z from "zod";
import { START_OF_TIME_S, type OpenPage } from "./open-page.js";
import { HOST_ADDRESS } from "./serve-page.js";
import { atFrame } from "./timeline.js";

/** How often is looked whether a script waits for what it asked for, as it may, which is answered only between frames. */
const STALL_LOOK_MS = 50;
/** The same while a page begins, when nothing else goes on. */
const LOADING_LOOK_MS = 4;
/** Less than the first frame: what has not begun by then begins later. */
const MOST_LOADING_MS = 15;

/** The page's time, which goes on frame by frame and only when it is told to. */
export interface FrameClock {
  readonly kind: "begin-frame" | "injected";
  /** Stops time and begins to load the page. */
  begin: () => Promise<void>;
  /**
   * Lets page time go on from one frame to frame k and draws that.
   * @returns a PNG in base64 if one was asked for, and whether anything was drawn anew, as far as that is known.
   */
  advance: (k: number, wanted: { from: number; picture: boolean; pictureNext: boolean }) => Promise<Drawn>;
  /** What the page is in when a wait of ours is not answered. */
  readonly phase: "timer" | "frame";
}

export interface Drawn {
  picture: string | null;
  isNew: boolean;
}

const Frame = z.object({ screenshotData: z.string().optional(), hasDamage: z.boolean() });

/**
 * Virtual time with explicit begin-frames: the browser's clock, its timers and its compositor all stand still between two
 * frames.
 */
export function createBeginFrameClock({ browser, sessionId, send, watch }: OpenPage, frameLimitMs: number): FrameClock {
  const waiting: (() => void)[] = [];
  browser.pipe.listen((event) => {
    if (event.method === "Emulation.virtualTimeBudgetExpired" && event.sessionId === sessionId) waiting.shift()?.();
  });
  const grant = async (policy: "advance" | "pauseIfNetworkFetchesPending", budget: number, beside: () => void) => {
    const ended = new Promise<void>((resolve) => waiting.push(resolve));
    const looking = setInterval(beside, policy === "advance" ? STALL_LOOK_MS : LOADING_LOOK_MS);
    try {
      await send(
        "Emulation.setVirtualTimePolicy",
        { policy, budget, maxVirtualTimeTaskStarvationCount: 10_000 },
        frameLimitMs,
      );
      await browser.patience.within(ended, frameLimitMs, "Page time");
    } finally {
      clearInterval(looking);
    }
  };
  /**
   * Lets the document begin, with all that it asks for to begin with. Time stands still while something is waited for, and goes on by
   * one millisecond where nothing is: so it is the same however long the machine takes.
   */
  const load = async () => {
    for (loadedMs = 1; loadedMs <= MOST_LOADING_MS; loadedMs++) {
      await grant("pauseIfNetworkFetchesPending", 1, answerStalled);
      await watch.requests.untilAsleep();
      if (watch.documents > 0 && !watch.requests.hasWaiting) return;
    }
    loadedMs = MOST_LOADING_MS;
  };
  const answerStalled = () => {
    if (watch.requests.isStalled()) void watch.requests.settle({ isLoading: false });
  };
  let base = 0;
  /** Page time that went by until the page had begun. */
  let loadedMs = 0;
  let phase: FrameClock["phase"] = "timer";
  return {
    kind: "begin-frame",
    get phase() {
      return phase;
    },
    async begin() {
      const paused = await send("Emulation.setVirtualTimePolicy", {
        policy: "pause",
        initialVirtualTime: START_OF_TIME_S,
      });
      base = z.object({ virtualTimeTicksBase: z.number() }).parse(paused).virtualTimeTicksBase;
      await send("Page.navigate", { url: HOST_ADDRESS });
      await load();
    },
    async advance(k, { from, picture, pictureNext }) {
      const budget = atFrame(k) - Math.max(atFrame(from), loadedMs);
      phase = "timer";
      await grant("advance", budget, answerStalled);
      phase = "frame";
      const drawn = Frame.parse(
        await send(
          "HeadlessExperimental.beginFrame",
          {
            frameTimeTicks: base + atFrame(k),
            interval: budget,
            noDisplayUpdates: !picture && !pictureNext,
            ...(picture ? { screenshot: { format: "png", optimizeForSpeed: true } } : {}),
          },
          frameLimitMs,
        ),
      );
      return { picture: drawn.screenshotData ?? null, isNew: drawn.hasDamage };
    },
  };
}
