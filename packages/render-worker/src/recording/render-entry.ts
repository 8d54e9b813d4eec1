import { type Finding, type FurtherView, Recording, type RecordingPlan, type Stability } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { BLANK_CONTENT_SHARE, listNeeds } from "@tourney/core/page";
import type { Shelf } from "@tourney/store";
import { type BrowserSource, ONE_EACH } from "../browser/browser-pool.js";
import { EntryBrowsers } from "../browser/entry-browsers.js";
import { findBrowser } from "../browser/launch.js";
import { MachineBusy } from "../browser/patience.js";
import { judgeSteps, keepSteps } from "./judge-steps.js";
import { type Beside, makeFilm, makeRecording } from "./make-recording.js";
import { LIGHT, type Pacing, PlayedWrongly } from "./pace.js";
import { Darkroom, keepFrame, type KeepPicture } from "./pictures.js";
import { findNamedKeys } from "./named-keys.js";
import { measureRealTime } from "./real-time.js";
import { makeStressTest } from "./stress-test.js";
import type { Clip, Gathered, RecordDeps } from "./clip.js";
import { recordPage } from "./record-page.js";
import { createServePage, type FileMap } from "./serve-page.js";
import { compareRecordings } from "./stability.js";

/** Processor time that a clip may use before the page counts as hung: so much for each second of it, and for what surrounds it. */
const CLIP_LIMIT_PER_SECOND_MS = 15_000;
const CLIP_LIMIT_BASE_MS = 40_000;
/** A scene that takes long to draw still draws a frame in a few seconds of processor time. */
const FRAME_LIMIT_MS = 20_000;

export interface RenderDeps {
  browserPath: string | undefined;
  keep: KeepPicture;
  /** What the browser prints on its error output. */
  errors: (line: string) => void;
  /** Libraries that stand in for public hosts. */
  shelf: Shelf;
  /** Processor time that one frame may take before the page counts as hung; 20 s when it is not said. */
  frameLimitMs?: number;
  /** Where its first browser comes from; each entry has its own when it is not said. */
  pool?: BrowserSource;
  /** How the page is played to begin with. */
  pacing?: Pacing;
}

/** Records clips of one entry, each in a context of its own. */
type Recorder = (clip: Clip) => Promise<Gathered>;

/**
 * Records one entry and measures it: the clip itself, what its inputs come to, how it looks at other sizes, whether it is the
 * same again, and how fast it draws.
 * @throws TourneyError BROWSER_MISSING, RENDER_FAILED when the browser cannot be started, or MACHINE_BUSY when it is given no time.
 */
export async function renderEntry(
  files: FileMap,
  entryPath: string,
  plan: RecordingPlan,
  { pool = ONE_EACH, ...deps }: RenderDeps,
): Promise<Recording> {
  const lastLines: string[] = [];
  const errors = (line: string) => {
    lastLines.splice(0, Math.max(0, lastLines.length - 4));
    lastLines.push(line);
    deps.errors(line);
  };
  const browser = findBrowser(deps.browserPath);
  const browsers = new EntryBrowsers(browser, errors, pool);
  const realTimeBrowsers = new EntryBrowsers({ ...browser, isRealTime: true }, errors, pool);
  const recordDeps: RecordDeps = {
    browser,
    browsers,
    realTimeBrowsers,
    errors,
    clipLimitMs: CLIP_LIMIT_BASE_MS + plan.seconds * CLIP_LIMIT_PER_SECOND_MS,
    frameLimitMs: deps.frameLimitMs ?? FRAME_LIMIT_MS,
    serve: createServePage(files, entryPath, deps.shelf),
    namedKeys: findNamedKeys(listScripts(files)),
    needs: listNeeds(listScripts(files)),
  };
  const record: Recorder = (clip) =>
    recordPage(clip, recordDeps).catch((cause: unknown) => {
      if (cause instanceof PlayedWrongly) throw cause;
      if (cause instanceof MachineBusy) throw describeBusy(cause);
      throw new TourneyError("RENDER_FAILED", {
        message: "The browser could not be started or driven.",
        reason: lastLines.join("\n").slice(-1000) || (cause instanceof Error ? cause.message : String(cause)),
        remedy: "Check that chromium-headless-shell and chromium-sandbox are installed and alike, then record again.",
        cause,
      });
    });
  try {
    return await recordWhole(plan, {
      record,
      recordDeps,
      keep: deps.keep,
      pacing: deps.pacing ?? LIGHT,
      shelf: deps.shelf,
    });
  } finally {
    await Promise.all([browsers.end(), realTimeBrowsers.end()]);
  }
}

interface Whole {
  record: Recorder;
  recordDeps: RecordDeps;
  keep: KeepPicture;
  pacing: Pacing;
  shelf: Shelf;
}

/** The clip with all that is learnt beside it. */
async function recordWhole(
  plan: RecordingPlan,
  { record, recordDeps, keep, pacing: firstPacing, shelf }: Whole,
): Promise<Recording> {
  const startedAt = performance.now();
  const take = async (further: Partial<Clip> = {}): Promise<Take> => {
    const darkroom = new Darkroom();
    const onPicture = (png: string) => void darkroom.develop(png);
    const clip = { plan, pacing: firstPacing, film: true, looksAt: always, probes: true, onPicture, ...further };
    return { ...(await recordWithLibraries(record, clip, shelf)), darkroom };
  };
  const replay: Recorder = async (clip) => (await recordAtItsPace(record, clip)).gathered;
  const { chosen, stability } = await takeFairly(take);
  const { gathered, pacing, darkroom } = chosen;
  const film = await makeFilm(gathered, { darkroom, keep });
  const wallMs = performance.now() - startedAt;
  const isSound = gathered.outcome === "ok";
  const effects = isSound
    ? await judgeSteps(gathered, (clip) => replay({ ...clip, plan, pacing, film: false, probes: false }))
    : [];
  const beside: Beside = {
    steps: await keepSteps(gathered.steps, effects, keep),
    stability,
    realTime: isSound && plan.realTime ? await measureRealTime(plan, recordDeps) : null,
    stress: isSound && plan.stress ? await makeStressTest(plan, recordDeps) : null,
  };
  const make = () => makeRecording(gathered, plan, { film, beside, needs: recordDeps.needs, keep, wallMs, pacing });
  let recording = await make();
  // A page that ended its own recording was recorded again already.
  if (stability === null && wantsRepeat(plan, recording)) {
    beside.stability = await repeat(gathered, { plan, pacing }, replay);
    recording = await make();
  }
  const views = isSound ? await takeViews(plan, replay, keep) : [];
  return Recording.parse({ ...recording, views });
}

/** One recording of the page, with its pictures. */
interface Take {
  gathered: Gathered;
  pacing: Pacing;
  darkroom: Darkroom;
}

/**
 * Records the page, and again where the first recording would count against it: a verdict is believed when a second recording
 * comes to it as well, in a context of its own, or in a browser of its own where the first one's failed.
 */
async function takeFairly(take: (further?: Partial<Clip>) => Promise<Take>): Promise<{
  chosen: Take;
  stability: Stability | null;
}> {
  let first = await take();
  let again = knownSteps(first.gathered);
  // Where the page was kept from going some time after an input, it is left alone once, to see whether it goes by itself.
  if (first.gathered.outcome === "ok" && first.gathered.undone.some(({ isAnswer }) => !isAnswer)) {
    const alone = await take({ steps: [] });
    if (alone.gathered.outcome === "navigated") [first, again] = [alone, { steps: [] }];
  }
  if (!(await isBroken(first))) return { chosen: first, stability: null };
  const second = await take({ ...again, looksAt: never, probes: false });
  const stability = compareRecordings(first.gathered, [second.gathered]);
  return { chosen: (await isBroken(second)) ? first : await take(again), stability };
}

/** Whether a recording shows nothing, or ended before its time. */
async function isBroken({ gathered: { outcome, pictures }, darkroom }: Take): Promise<boolean> {
  if (outcome !== "ok") return true;
  const developed = await Promise.all(pictures.map(({ png }) => darkroom.develop(png)));
  return developed.every(({ content }) => content < BLANK_CONTENT_SHARE);
}

/** Texts of an entry in which scripts may stand. */
const listScripts = (files: FileMap): string[] =>
  [...files].flatMap(([path, content]) => (/\.(?:html?|svg|m?js)$/i.test(path) ? [content.toString("utf8")] : []));

const describeBusy = (cause: MachineBusy): TourneyError =>
  new TourneyError("MACHINE_BUSY", {
    message: "Not recorded: the machine gave the browser no time.",
    reason: `${cause.message}. That says nothing about the page.`,
    remedy: "It is tried again by itself. Should that not help, record it again when the machine has less to do.",
    cause,
  });

/** A library may ask for others, and those for more. */
const MOST_INTAKES = 3;

/** Records the clip. If the page asked for libraries that the shelf lacked and has now fetched, records it again with them. */
async function recordWithLibraries(record: Recorder, clip: Clip, shelf: Shelf): ReturnType<typeof recordAtItsPace> {
  let recorded = await recordAtItsPace(record, clip);
  for (let n = 0; n < MOST_INTAKES; n++) {
    const { blocked, substitutions } = recorded.gathered;
    const asked = [...blocked, ...substitutions.filter(({ exact }) => !exact)].map(({ url }) => url);
    if ((await shelf.takeIn(asked)) === 0) break;
    recorded = await recordAtItsPace(record, clip);
  }
  return recorded;
}

const always = () => true;
const never = () => false;

/** The clip itself, begun again in another way where the page asks for it. */
async function recordAtItsPace(record: Recorder, clip: Clip): Promise<{ gathered: Gathered; pacing: Pacing }> {
  let { pacing } = clip;
  for (;;) {
    try {
      return { gathered: await record({ ...clip, pacing }), pacing };
    } catch (error) {
      if (!(error instanceof PlayedWrongly)) throw error;
      pacing = { ...pacing, ...error.change };
    }
  }
}

/** What may be chance. How a page is laid out, and what it asks for, is there in each of its pictures. */
const REPEATED = new Set<Finding["rule"]>(["exception", "goes_wrong", "dead_control", "still", "dialog", "popup"]);

const wantsRepeat = (plan: RecordingPlan, { outcome, findings }: Pick<Recording, "outcome" | "findings">): boolean =>
  plan.repeats > 1 ||
  (plan.repeatFlagged &&
    outcome === "ok" &&
    findings.some(({ rule, severity }) => severity !== "note" && REPEATED.has(rule)));

async function repeat(
  first: Gathered,
  { plan, pacing }: Pick<Clip, "plan" | "pacing">,
  record: Recorder,
): Promise<Stability> {
  const others: Gathered[] = [];
  for (let i = 1; i < Math.max(2, plan.repeats); i++)
    others.push(await record({ plan, pacing, film: true, looksAt: never, probes: false, ...knownSteps(first) }));
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
      pacing: LIGHT,
      film: true,
      looksAt: never,
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
