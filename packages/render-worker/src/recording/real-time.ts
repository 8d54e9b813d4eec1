import { setTimeout as sleep } from "node:timers/promises";
import type { RealTime, RecordingPlan } from "@tourney/core/contract";
import * as z from "zod";
import { openPage } from "./open-page.js";
import type { RecordDeps } from "./clip.js";
import { HOST_ADDRESS } from "./serve-page.js";

const SETTLE_MS = 300;
const MEASURED_MS = 700;

const MEASURE = `new Promise((resolve) => {
  const times = [];
  const end = performance.now() + ${MEASURED_MS};
  const look = (at) => { times.push(at); at < end ? requestAnimationFrame(look) : resolve(times); };
  requestAnimationFrame(look);
})`;

/**
 * Runs the page for a short while on the machine's own clock and measures the intervals between its frames, as the page itself
 * would see them. The figure tells of this machine and of what else it did meanwhile. Null when the page did not last.
 */
export async function measureRealTime(
  plan: RecordingPlan,
  { realTimeBrowsers, serve }: RecordDeps,
): Promise<RealTime | null> {
  const browser = realTimeBrowsers.take();
  let isSound = false;
  const limit = setTimeout(() => browser.pipe.close(), 10_000);
  try {
    const page = await openPage(browser, { ...plan, serve, muted: [], isFrameControlled: false });
    page.watch.requests.answersAtOnce = true;
    await page.send("Page.navigate", { url: HOST_ADDRESS });
    await sleep(SETTLE_MS);
    const times = await page.probe(z.array(z.number()), MEASURE, MEASURED_MS * 3);
    const intervals = times.slice(1).map((at, i) => at - times[i]!);
    isSound = await page.close();
    if (intervals.length === 0) return null;
    const sorted = intervals.toSorted((a, b) => a - b);
    const quantile = (share: number) =>
      Math.round(sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]! * 10) / 10;
    return { seconds: MEASURED_MS / 1000, frames: intervals.length, p50Ms: quantile(0.5), p95Ms: quantile(0.95) };
  } catch {
    // A page that does not last on the machine's own clock is measured by its recording alone.
    return null;
  } finally {
    clearTimeout(limit);
    await realTimeBrowsers.giveBack(browser, isSound);
  }
}
