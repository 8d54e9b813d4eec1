import type { Browser } from "../browser/launch.js";
import { createBeginFrameClock, type FrameClock } from "./frame-clock.js";
import { createInjectedClock, injectedClockScript } from "./injected-clock.js";
import { openPage, type OpenPage } from "./open-page.js";
import type { Clip, RecordDeps } from "./record-page.js";

/** A page with the clock that its browser can have. */
export async function openClock(
  browser: Browser,
  { browser: choice, serve, frameLimitMs }: RecordDeps,
  { plan, muted = [] }: Clip,
): Promise<{ page: OpenPage; clock: FrameClock }> {
  const isFrameControlled = choice.clock === "begin-frame";
  const page = await openPage(browser, {
    viewport: plan.viewport,
    seed: plan.seed,
    serve,
    muted,
    isFrameControlled,
    ...(isFrameControlled ? {} : { extraScript: injectedClockScript() }),
  });
  const clock = isFrameControlled
    ? createBeginFrameClock(page, frameLimitMs)
    : await createInjectedClock(page, { viewport: plan.viewport, frameLimitMs });
  return { page, clock };
}
