import { setTimeout as sleep } from "node:timers/promises";
import * as z from "zod";
import { CLOCK_HOOK } from "./injected-clock-script.js";
import type { FrameClock } from "./frame-clock.js";
import type { OpenPage } from "./open-page.js";
import { HOST_ADDRESS } from "./serve-page.js";
import { atFrame } from "./timeline.js";
import type { Viewport } from "@tourney/core/contract";

const LOAD_LIMIT_MS = 15_000;
/** The clock of `INJECTED_CLOCK_SCRIPT`, moved on by calls into the entry's document. */
export async function createInjectedClock(
  { browser, listen, sessionId, send, watch, probe }: OpenPage,
  { viewport, frameLimitMs, isMuted }: { viewport: Viewport; frameLimitMs: number; isMuted: boolean },
): Promise<FrameClock> {
  await send("Emulation.setDeviceMetricsOverride", { ...viewport, deviceScaleFactor: 1, mobile: false });
  const contexts = new Map<string, number>();
  const Created = z.object({
    context: z.object({
      id: z.int(),
      auxData: z.looseObject({ frameId: z.string().optional(), isDefault: z.boolean().optional() }).optional(),
    }),
  });
  listen(({ method, params, sessionId: from }) => {
    if (method !== "Runtime.executionContextCreated" || from !== sessionId) return;
    const { context } = Created.parse(params);
    if (context.auxData?.isDefault === true && context.auxData.frameId !== undefined)
      contexts.set(context.auxData.frameId, context.id);
  });
  let phase: FrameClock["phase"] = "timer";
  const waitForDocument = async () => {
    let isWaiting = true;
    const begun = async () => {
      while (isWaiting && (watch.stageFrameId === null || !contexts.has(watch.stageFrameId))) {
        await watch.requests.settle();
        await sleep(10);
      }
    };
    // The document and what it asks for before it runs: there is no virtual time that would wait for them.
    await browser.patience.within(begun(), LOAD_LIMIT_MS, "The document").finally(() => (isWaiting = false));
    for (let i = 0; i < 20; i++) {
      await watch.requests.settle();
      await sleep(10);
    }
  };
  return {
    kind: "injected",
    get phase() {
      return phase;
    },
    async begin() {
      await send("Page.navigate", { url: HOST_ADDRESS });
      await waitForDocument();
    },
    async advance(k, { from, picture }) {
      phase = "timer";
      if (isMuted) await probe(z.unknown(), `globalThis.tourneyNowMs = ${atFrame(from)}; 0`);
      const contextId = contexts.get(watch.stageFrameId!);
      await send(
        "Runtime.evaluate",
        { expression: `globalThis[${CLOCK_HOOK}](${atFrame(k)})`, contextId, awaitPromise: true },
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
