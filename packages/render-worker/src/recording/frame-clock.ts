import { setTimeout as sleep } from "node:timers/promises";
import * as z from "zod";
import { CdpTimeout } from "../browser/cdp-pipe.js";
import { START_OF_TIME_S, type OpenPage } from "./open-page.js";
import { HOST_ADDRESS } from "./serve-page.js";
import { atFrame } from "./timeline.js";

/** In so many frames the entry's document has begun, and what it asks for first has been asked for. */
const LOADING_FRAMES = 3;

/** How long the first requests may keep time waiting. */
const STALL_MS = 3000;

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
  const grant = (policy: "advance" | "pauseIfNetworkFetchesPending", budget: number) =>
    send("Emulation.setVirtualTimePolicy", { policy, budget, maxVirtualTimeTaskStarvationCount: 10_000 }, frameLimitMs);
  let base = 0;
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
    },
    async advance(k, { from, picture, pictureNext }) {
      const ended = new Promise<void>((resolve) => waiting.push(resolve));
      const budget = atFrame(k) - atFrame(from);
      phase = "timer";
      // The document is waited for; from then on requests are answered between frames, and time must not wait for them.
      watch.holdsRequests = k > LOADING_FRAMES;
      if (!watch.holdsRequests) {
        await grant("pauseIfNetworkFetchesPending", budget);
        // What a worker that spins has asked for stays pending: time goes on without it.
        const isOver = await Promise.race([ended.then(() => true), sleep(STALL_MS, false)]);
        if (!isOver) await grant("advance", budget);
      } else await grant("advance", budget);
      await withLimit(ended, frameLimitMs);
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

async function withLimit(event: Promise<void>, limitMs: number): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const limit = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new CdpTimeout(`Page time did not go on within ${limitMs} ms`)), limitMs);
  });
  try {
    await Promise.race([event, limit]);
  } finally {
    clearTimeout(timer);
  }
}
