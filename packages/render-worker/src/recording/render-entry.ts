import { Recording, type RecordingPlan } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { findBrowser } from "../browser/launch.js";
import { type KeepPicture, makeRecording } from "./make-recording.js";
import type { FileMap } from "./page-watch.js";
import { recordPage } from "./record-page.js";

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
  const startedAt = performance.now();
  const wallLimitMs = WALL_BASE_MS + plan.seconds * 1000 * WALL_FACTOR;
  const gathered = await recordPage(files, entryPath, plan, { binary, errors, wallLimitMs }).catch((cause: unknown) => {
    throw new TourneyError("RENDER_FAILED", {
      message: "The browser could not be started or driven.",
      reason: lastLines.join("\n").slice(-1000) || (cause instanceof Error ? cause.message : String(cause)),
      remedy: "Check that chromium-headless-shell and chromium-sandbox are installed and alike, then record again.",
      cause,
    });
  });
  const recording = await makeRecording(gathered, plan, { keep: deps.keep, wallMs: performance.now() - startedAt });
  return Recording.parse(recording);
}
