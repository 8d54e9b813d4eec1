import * as z from "zod";
import { START_OF_TIME_S, type OpenPage } from "./open-page.js";
import { HOST_ADDRESS } from "./serve-page.js";
import { atFrame } from "./timeline.js";

/** How often is looked whether a script waits for what it asked for, as it may, which is answered only between frames. */
const STALL_LOOK_MS = 50;
/** So little that pages, which are told of whole milliseconds, do not see it. */
const LOADING_STEP_MS = 0.01;
const MOST_LOADING_STEPS = 100;

/** The page's time, which goes on frame by frame and only when it is told to. */
export interface FrameClock {
  readonly kind: "begin-frame" | "injected";
  /** Stops time and begins to load the page. */
  begin: () => Promise<void>;
  /**
   * Lets page time go on from one frame to frame k and draws that, where it shows up to the picture: pages see the difference.
   * @returns a PNG in base64 if one was asked for, and whether anything was drawn anew, as far as that is known.
   */
  advance: (k: number, wanted: { from: number; picture: boolean; shows: boolean }) => Promise<Drawn>;
  /** What the page is in when a wait of ours is not answered. */
  readonly phase: "timer" | "frame";
}

export interface Drawn {
  picture: string | null;
  isNew: boolean;
}

const Frame = z.object({ screenshotData: z.string().optional(), hasDamage: z.boolean() });

/** Lets a page's virtual time go on, and answers what it asks for while it stands still. */
function createGrants({ browser, listen, sessionId, send, watch }: OpenPage, frameLimitMs: number) {
  const waiting: (() => void)[] = [];
  listen((event) => {
    if (event.method === "Emulation.virtualTimeBudgetExpired" && event.sessionId === sessionId) waiting.shift()?.();
  });
  // A script may wait for what it asked for and not go on without; all else is answered between two grants.
  const answerStalled = () => {
    if (watch.requests.isStalled()) void watch.requests.settle();
  };
  /** Lets page time go on by so many milliseconds. */
  const grant = async (budget: number, policy: "advance" | "pauseIfNetworkFetchesPending" = "advance") => {
    const ended = new Promise<void>((resolve) => waiting.push(resolve));
    const looking = setInterval(answerStalled, STALL_LOOK_MS);
    try {
      const granted = { policy, budget, maxVirtualTimeTaskStarvationCount: 10_000 };
      await send("Emulation.setVirtualTimePolicy", granted, frameLimitMs);
      await browser.patience.within(ended, frameLimitMs, "Page time");
    } finally {
      clearInterval(looking);
    }
  };
  /**
   * Lets the document begin, with all that it asks for to begin with: a hundredth of a millisecond for each step of the way, between which
   * is waited until nothing goes on in the browser any more. So every step comes at its moment, however long the machine takes for it.
   *
   * @returns page time that went by.
   */
  const load = async (): Promise<number> => {
    let steps = 0;
    while (steps < MOST_LOADING_STEPS && !(watch.hasLoaded && !watch.requests.hasWaiting)) {
      await grant(LOADING_STEP_MS, "pauseIfNetworkFetchesPending");
      steps++;
      await watch.requests.untilAsleep();
      await watch.requests.settle();
    }
    return steps * LOADING_STEP_MS;
  };
  return { grant, load };
}

/**
 * Virtual time with explicit begin-frames: the browser's clock, its timers and its compositor all stand still between two
 * frames.
 */
export function createBeginFrameClock(page: OpenPage, frameLimitMs: number): FrameClock {
  const { send } = page;
  const { grant, load } = createGrants(page, frameLimitMs);
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
      loadedMs = await load();
    },
    async advance(k, { from, picture, shows }) {
      const budget = atFrame(k) - Math.max(atFrame(from), loadedMs);
      phase = "timer";
      if (budget > 0) await grant(budget);
      phase = "frame";
      const drawn = Frame.parse(
        await send(
          "HeadlessExperimental.beginFrame",
          {
            frameTimeTicks: base + atFrame(k),
            interval: budget,
            noDisplayUpdates: !picture && !shows,
            ...(picture ? { screenshot: { format: "png", optimizeForSpeed: true } } : {}),
          },
          frameLimitMs,
        ),
      );
      return { picture: drawn.screenshotData ?? null, isNew: drawn.hasDamage };
    },
  };
}
