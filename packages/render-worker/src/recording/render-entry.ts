import { type FurtherView, Recording, type RecordingPlan } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { findBrowser } from "../browser/launch.js";
import { keepFrame, type KeepPicture, makeRecording } from "./make-recording.js";
import type { FileMap } from "./page-watch.js";
import { type Gathered, recordPage } from "./record-page.js";

/** A recording may take this much longer than the page time it covers before it is ended as hung. */
const WALL_FACTOR = 6;
const WALL_BASE_MS = 20_000;

export interface RenderDeps {
  browserPath: string | undefined;
  keep: KeepPicture;
  /** What the browser prints on its error output. */
  errors: (line: string) => void;
}

/**
 * Records one entry and measures it.
 * @throws TourneyError BROWSER_MISSING, or RENDER_FAILED when the browser cannot be started.
 */
export async function renderEntry(
  files: FileMap,
  entryPath: string,
  plan: RecordingPlan,
  deps: RenderDeps,
): Promise<Recording> {
  const binary = findBrowser(deps.browserPath);
  const lastLines: string[] = [];
  const errors = (line: string) => {
    lastLines.splice(0, Math.max(0, lastLines.length - 4));
    lastLines.push(line);
    deps.errors(line);
  };
  const record = (what: RecordingPlan) =>
    recordPage(files, entryPath, what, {
      binary,
      errors,
      wallLimitMs: WALL_BASE_MS + what.seconds * 1000 * WALL_FACTOR,
    }).catch((cause: unknown) => {
      throw new TourneyError("RENDER_FAILED", {
        message: "The browser could not be started or driven.",
        reason: lastLines.join("\n").slice(-1000) || (cause instanceof Error ? cause.message : String(cause)),
        remedy: "Check that chromium-headless-shell and chromium-sandbox are installed and alike, then record again.",
        cause,
      });
    });
  const startedAt = performance.now();
  const gathered = await record(plan);
  const recording = await makeRecording(gathered, plan, { keep: deps.keep, wallMs: performance.now() - startedAt });
  // A page that ended its own recording would only do so again.
  const views = gathered.outcome === "ok" ? await takeViews(plan, record, deps.keep) : [];
  return Recording.parse({ ...recording, views });
}

/** A further view shows the page after this much of its time, when most have laid themselves out. */
const VIEW_SECONDS = 2;

async function takeViews(
  plan: RecordingPlan,
  record: (plan: RecordingPlan) => Promise<Gathered>,
  keep: KeepPicture,
): Promise<FurtherView[]> {
  const views: FurtherView[] = [];
  for (const viewport of plan.furtherViewports) {
    const seconds = Math.min(VIEW_SECONDS, plan.seconds);
    const { pictures } = await record({ ...plan, viewport, seconds, frames: 2, walkthrough: [] });
    const last = pictures.at(-1);
    if (last) views.push({ viewport, frame: await keepFrame(last, `view-${viewport.width}x${viewport.height}`, keep) });
  }
  return views;
}
