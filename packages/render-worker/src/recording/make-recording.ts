import type { Pacing } from "./pace.js";
import {
  type Recording,
  type RealTime,
  type RecordingPlan,
  RENDERER_VERSION,
  type Stability,
  type StepResult,
  StressTest,
} from "@tourney/core/contract";
import { changedShare, isOfOneSize } from "@tourney/core/image";
import { findFindings, judgeControls } from "@tourney/core/page";
import {
  type Darkroom,
  type KeepPicture,
  type KeptFrame,
  keepFrame,
  keepPreview,
  keepWhole,
  keepSprite,
} from "./pictures.js";
import type { Gathered } from "./clip.js";

/** What was learnt besides the clip itself. */
export interface Beside {
  steps: StepResult[];
  stability: Stability | null;
  realTime: RealTime | null;
  stress: StressTest | null;
}

/** A clip's pictures, kept and measured. */
export interface Film {
  kept: KeptFrame[];
  /** Per interval: share of pixels that changed. */
  motion: number[];
}

/** Keeps a clip's pictures, hashed by their pixels; equal ones that follow one another are kept once. */
export async function makeFilm(
  { pictures }: Gathered,
  tools: { darkroom: Darkroom; keep: KeepPicture },
): Promise<Film> {
  const film: Film = { kept: [], motion: [] };
  for (const [index, picture] of pictures.entries()) {
    const last = film.kept.at(-1);
    if (last && picture.png === pictures[index - 1]!.png) {
      film.kept.push({ ...last, frame: { ...last.frame, atMs: picture.atMs } });
      film.motion.push(0);
      continue;
    }
    const kept = await keepFrame(picture, `frame-${String(index).padStart(2, "0")}`, tools);
    // A window of another size shows another picture, whatever is in it.
    if (last)
      film.motion.push(isOfOneSize(last.pixels, kept.pixels) ? round(changedShare(last.pixels, kept.pixels)) : 1);
    film.kept.push(kept);
  }
  return film;
}

interface Made {
  film: Film;
  beside: Beside;
  /** What the page asks a machine for. */
  needs: readonly string[];
  keep: KeepPicture;
  wallMs: number;
  pacing: Pacing;
}

/** Turns what the browser gave into the recording, with what was noticed by itself. */
export async function makeRecording(
  gathered: Gathered,
  plan: RecordingPlan,
  made: Made,
): Promise<Omit<Recording, "views">> {
  const { film, beside, keep } = made;
  const frames = film.kept.map(({ frame }) => frame);
  const poster = choosePoster(film.kept.map(({ content }) => content));
  const best = film.kept[poster];
  if (best) frames[poster] = { ...best.frame, preview: await keepPreview(best.pixels, "poster-640", keep) };
  return {
    rendererVersion: RENDERER_VERSION,
    outcome: gathered.outcome,
    outcomeDetail: gathered.outcomeDetail,
    hungIn: gathered.hungIn,
    clock: gathered.clock,
    isolation: gathered.isolation,
    viewport: plan.viewport,
    seconds: plan.seconds,
    seed: plan.seed,
    frames,
    poster,
    sprite: await keepSprite(
      film.kept.map(({ small }) => small),
      keep,
    ),
    ...beside,
    whole: gathered.whole === null ? null : await keepWhole(gathered.whole, keep),
    controls: judgeControls(gathered.controls ?? [], beside.steps),
    findings: notice(gathered, plan, made),
    console: gathered.log,
    requests: gathered.blocked,
    substitutions: gathered.substitutions,
    metrics: measure(gathered, made),
    shownText: gathered.shownText,
  };
}

const notice = (gathered: Gathered, plan: RecordingPlan, { film, beside, needs }: Made): Recording["findings"] =>
  findFindings({
    ...gathered,
    ...beside,
    needs,
    kind: plan.kind,
    motionExpected: plan.motionExpected,
    frameTimesMs: film.kept.map(({ frame }) => frame.atMs),
    content: film.kept.map(({ content }) => content),
    motion: film.motion,
  });

const measure = (gathered: Gathered, { film, wallMs, pacing }: Made): Recording["metrics"] => ({
  wallMs: Math.round(wallMs),
  motion: film.motion,
  domNodes: gathered.domNodes,
  domDepth: gathered.layout?.depth ?? null,
  firstPaintMs: film.kept.find(({ content }) => content > 0)?.frame.atMs ?? null,
  framesDrawn: gathered.framesDrawn,
  framesPerSecond: 60 / pacing.stride,
  pageHeight: gathered.layout === null ? null : Math.round(gathered.layout.pageHeight),
  servedBytes: gathered.servedBytes,
});

/** The frame with most drawn on it, of those that have about as much the one in the middle of the clip. */
function choosePoster(content: readonly number[]): number {
  const most = Math.max(0, ...content);
  const full = content.flatMap((share, index) => (share >= 0.9 * most ? [index] : []));
  return full[Math.floor(full.length / 2)] ?? 0;
}

const round = (share: number) => Math.round(share * 1e6) / 1e6;
