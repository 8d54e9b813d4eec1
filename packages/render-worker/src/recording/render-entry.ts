import { type FurtherView, Recording, type RecordingPlan, type Stability } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { Shelf } from "@tourney/store";
import { findBrowser } from "../browser/launch.js";
import { judgeSteps, keepSteps } from "./judge-steps.js";
import { type Beside, makeFilm, makeRecording } from "./make-recording.js";
import { TooHeavy } from "./pace.js";
import { Darkroom, keepFrame, type KeepPicture } from "./pictures.js";
import { measureRealTime } from "./real-time.js";
import type { Clip, Gathered, RecordDeps } from "./clip.js";
import { recordPage } from "./record-page.js";
import { createServePage, type FileMap } from "./serve-page.js";
import { compareRecordings } from "./stability.js";

/** A recording may take this much longer than the page time it covers before it is ended as hung. */
const WALL_FACTOR = 6;
const WALL_BASE_MS = 20_000;
/** A scene that takes long to draw still draws a frame in a few seconds. */
const FRAME_LIMIT_MS = 15_000;

export interface RenderDeps {
  browserPath: string | undefined;
  keep: KeepPicture;
  /** What the browser prints on its error output. */
  errors: (line: string) => void;
  /** Libraries that stand in for public hosts. */
  shelf: Shelf;
  /** How long one frame may take before the page counts as hung; 15 s when it is not said. */
  frameLimitMs?: number;
}

/** Records clips of one entry, each in a browser of its own. */
type Recorder = (clip: Clip) => Promise<Gathered>;

/**
 * Records one entry and measures it: the clip itself, what its inputs come to, how it looks at other sizes, whether it is the
 * same again, and how fast it draws.
 * @throws TourneyError BROWSER_MISSING, or RENDER_FAILED when the browser cannot be started.
 */
export async function renderEntry(
  files: FileMap,
  entryPath: string,
  plan: RecordingPlan,
  deps: RenderDeps,
): Promise<Recording> {
  const lastLines: string[] = [];
  const recordDeps: RecordDeps = {
    browser: findBrowser(deps.browserPath),
    errors: (line) => {
      lastLines.splice(0, Math.max(0, lastLines.length - 4));
      lastLines.push(line);
      deps.errors(line);
    },
    wallLimitMs: WALL_BASE_MS + plan.seconds * 1000 * WALL_FACTOR,
    frameLimitMs: deps.frameLimitMs ?? FRAME_LIMIT_MS,
    serve: createServePage(files, entryPath, deps.shelf),
  };
  const record: Recorder = (clip) =>
    recordPage(clip, recordDeps).catch((cause: unknown) => {
      if (cause instanceof TooHeavy) throw cause;
      throw new TourneyError("RENDER_FAILED", {
        message: "The browser could not be started or driven.",
        reason: lastLines.join("\n").slice(-1000) || (cause instanceof Error ? cause.message : String(cause)),
        remedy: "Check that chromium-headless-shell and chromium-sandbox are installed and alike, then record again.",
        cause,
      });
    });
  const startedAt = performance.now();
  const darkroom = new Darkroom();
  const { gathered, stride } = await recordAtItsPace(record, {
    plan,
    film: true,
    looks: true,
    probes: true,
    onPicture: (png) => void darkroom.develop(png),
  });
  const film = await makeFilm(gathered, { darkroom, keep: deps.keep });
  const wallMs = performance.now() - startedAt;
  const isSound = gathered.outcome === "ok";
  const effects = isSound
    ? await judgeSteps(gathered, (clip) => record({ ...clip, plan, stride, film: false, looks: true, probes: false }))
    : [];
  const beside: Beside = {
    steps: await keepSteps(gathered.steps, effects, deps.keep),
    stability: null,
    realTime: isSound && plan.realTime ? await measureRealTime(plan, recordDeps) : null,
  };
  const make = () => makeRecording(gathered, plan, { film, beside, keep: deps.keep, wallMs, stride });
  let recording = await make();
  // A page that ended its own recording would only do so again, at length.
  if (wantsRepeat(plan, recording)) {
    beside.stability = await repeat(gathered, { plan, stride }, record);
    recording = await make();
  }
  const views = isSound ? await takeViews(plan, record, deps.keep) : [];
  return Recording.parse({ ...recording, views });
}

/** The clip itself; of a page too heavy for every frame, as many as it can be drawn in bearable time. */
async function recordAtItsPace(
  record: Recorder,
  clip: Omit<Clip, "stride">,
): Promise<{ gathered: Gathered; stride: number }> {
  try {
    return { gathered: await record({ ...clip, stride: 1 }), stride: 1 };
  } catch (error) {
    if (!(error instanceof TooHeavy)) throw error;
    const { stride } = error;
    return { gathered: await record({ ...clip, stride }), stride };
  }
}

const wantsRepeat = (plan: RecordingPlan, { outcome, findings }: Pick<Recording, "outcome" | "findings">): boolean =>
  plan.repeats > 1 || (plan.repeatFlagged && outcome === "ok" && findings.some(({ severity }) => severity !== "note"));

async function repeat(
  first: Gathered,
  { plan, stride }: Pick<Clip, "plan" | "stride">,
  record: Recorder,
): Promise<Stability> {
  const others: Gathered[] = [];
  for (let i = 1; i < Math.max(2, plan.repeats); i++)
    others.push(await record({ plan, stride, film: true, looks: false, probes: false, ...knownSteps(first) }));
  return compareRecordings(first, others);
}

/** The inputs are those of the first recording, so that all get the same. */
const knownSteps = ({ steps }: Gathered): Pick<Clip, "steps"> => (steps.length > 0 ? { steps } : {});

/** A further view shows the page after this much of its time, when most have laid themselves out. */
const VIEW_SECONDS = 2;

async function takeViews(plan: RecordingPlan, record: Recorder, keep: KeepPicture): Promise<FurtherView[]> {
  const views: FurtherView[] = [];
  for (const viewport of plan.furtherViewports) {
    const seconds = Math.min(VIEW_SECONDS, plan.seconds);
    const { pictures } = await record({
      plan: { ...plan, viewport, seconds, frames: 2, walkthrough: [], kind: null },
      stride: 1,
      film: true,
      looks: false,
      probes: false,
    });
    const last = pictures.at(-1);
    if (!last) continue;
    const name = `view-${viewport.width}x${viewport.height}`;
    const { frame } = await keepFrame(last, name, { darkroom: new Darkroom(), keep });
    views.push({ viewport, frame });
  }
  return views;
}
