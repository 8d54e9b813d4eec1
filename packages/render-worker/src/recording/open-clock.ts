import type { Browser } from "../browser/launch.js";
import { createBeginFrameClock, type FrameClock } from "./frame-clock.js";
import { createInjectedClock } from "./injected-clock.js";
import { INJECTED_CLOCK_SCRIPT } from "./injected-clock-script.js";
import { openPage, type OpenPage } from "./open-page.js";
import type { Clip, RecordDeps } from "./clip.js";

/** A page with the clock that its browser can have. */
export async function openClock(
  browser: Browser,
  { browser: choice, serve, frameLimitMs }: RecordDeps,
  { plan, pacing, muted = [] }: Clip,
): Promise<{ page: OpenPage; clock: FrameClock }> {
  const isFrameControlled = choice.clock === "begin-frame";
  const page = await openPage(browser, {
    viewport: plan.viewport,
    seed: plan.seed,
    serve,
    muted,
    isFrameControlled,
    drawsAll: pacing.draws === "all",
    hasTouch: plan.walkthrough.some((step) => "tap" in step || "swipe" in step),
    ...(isFrameControlled ? {} : { extraScript: INJECTED_CLOCK_SCRIPT }),
  });
  const clock = isFrameControlled
    ? createBeginFrameClock(page, frameLimitMs)
    : await createInjectedClock(page, { viewport: plan.viewport, frameLimitMs, isMuted: muted.length > 0 });
  return { page, clock };
}
