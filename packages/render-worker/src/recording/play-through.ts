import { KINDS, type RecordingPlan } from "@tourney/core/contract";
import { InputSender } from "./dispatch-input.js";
import { DISCOVERY_MS, planTried } from "./default-walkthrough.js";
import { readControls } from "./page-controls.js";
import type { FrameClock } from "./frame-clock.js";
import type { OpenPage } from "./open-page.js";
import { Pace } from "./pace.js";
import type { PageWatch } from "./page-watch.js";
import { readDomState } from "./probes.js";
import { askCalm, Rest } from "./rest.js";
import { type Clip, type Gathered, MOMENTS, type Moment, PageEnded, type PlayedStep } from "./clip.js";
import { atFrame, frameFrom, planCaptures, planSteps, type TimedInput, type TimedStep } from "./timeline.js";

interface Playing {
  page: OpenPage;
  clock: FrameClock;
  clip: Clip;
  namedKeys: readonly string[];
  gathered: Pick<Gathered, "pictures" | "steps" | "controls" | "framesDrawn">;
}

/**
 * Plays a clip from its first frame to its last: inputs are sent at their moments, pictures and states gathered at theirs.
 *
 * @returns the last frame that was drawn.
 */
export async function playThrough({ page, clock, clip, namedKeys, gathered }: Playing): Promise<number> {
  const { plan } = clip;
  const lastFrame = Math.round(plan.seconds * 60);
  const endFrame = Math.min(lastFrame, clip.untilFrame ?? lastFrame);
  const film = new Set(planCaptures(plan.seconds, plan.frames));
  const known = clip.steps ?? planKnown(plan, lastFrame);
  // What there is to work is found out once; further clips are given the inputs of the first.
  const discovery = isWorked(plan) ? frameFrom(DISCOVERY_MS) : -1;
  gathered.steps = (known ?? []).map(asPlayed);
  const inputs = new InputSender(page);
  const due = new DueInputs(gathered.steps);
  const { watch } = page;
  await clock.begin();
  // Clips that are compared draw the same frames, whether or not a picture is taken of each.
  const isLooked = (frame: number) =>
    film.has(frame) || gathered.steps.some((step) => MOMENTS.some((moment) => step[FRAME_OF[moment]] === frame));
  const isPictured = (frame: number) =>
    (clip.film && film.has(frame)) ||
    gathered.steps.some((step, index) => listMoments(step, index, frame, clip).length > 0);
  // A picture is right when the frame before it was shown as well.
  const isShown = (frame: number) => isLooked(frame) || isLooked(frame + 1);
  const isDrawn = (frame: number) => (clip.pacing.draws === "seen" ? isLooked(frame) : isShown(frame));
  // Whichever frames are left out, what is looked at and what is sent keep theirs.
  const isNeeded = (frame: number) => frame === endFrame || frame === discovery || isShown(frame) || due.isDueAt(frame);
  const rest = new Rest(askCalm(page), clip.pacing, clock.kind === "begin-frame");
  const pace = new Pace(page.browser.meter.measureCpuMs, clip.pacing.stride);
  let last = 0;
  for (let k = 1; k <= endFrame; k = await rest.next(k, isNeeded, isDrawn)) {
    watch.nowMs = atFrame(last);
    if (k === discovery && clip.steps === undefined) {
      const found = planTried(await readControls(page, plan.viewport), {
        ...plan,
        keysFirst: triedOn(plan) === "keys",
        keys: namedKeys,
      });
      gathered.controls = found.controls;
      if (known === null) {
        const meantFor = new Map(found.steps.map(({ step, control }) => [step, control]));
        gathered.steps = planSteps([...meantFor.keys()], "default", lastFrame, meantFor).map(asPlayed);
        due.replace(gathered.steps);
      }
    }
    watch.inputs = findInputs(gathered.steps, watch.nowMs);
    if (await due.sendAll(watch.nowMs, inputs)) rest.end(k);
    const { documents } = watch;
    await watch.requests.settle();
    // What begins is drawn in full, as at the first time.
    if (watch.documents !== documents) rest.end(k);
    const advance = () => clock.advance(k, { from: last, picture: isPictured(k), shows: isShown(k) });
    // The pace is the main clip's; those that are compared with it keep to it.
    const drawn = await (clip.probes ? pace.draw(k, { isShown: isShown(k) }, advance) : advance());
    last = k;
    if (watch.crashed || watch.navigatedTo !== null) throw new PageEnded();
    if (drawn.isNew) gathered.framesDrawn++;
    if (drawn.picture === null) continue;
    if (clip.film && film.has(k)) {
      gathered.pictures.push({ atMs: atFrame(k), png: drawn.picture });
      clip.onPicture?.(drawn.picture);
    }
    await noteStates(page, { clip, steps: gathered.steps, frame: k, png: drawn.picture });
    if (gathered.steps.some((step, index) => step.afterFrame === k && clip.isEnough?.(step, index))) break;
  }
  return last;
}

const triedOn = ({ kind }: RecordingPlan) => (kind === null ? "none" : KINDS[kind].triedInputs);

/** Whether a page is worked at all: by the suite's inputs, or by those that are tried. */
const isWorked = (plan: RecordingPlan): boolean => plan.walkthrough.length > 0 || triedOn(plan) !== "none";

/** The inputs of a plan, or null when they depend on what is on the page. */
function planKnown(plan: RecordingPlan, lastFrame: number): TimedStep[] | null {
  if (plan.walkthrough.length > 0) return planSteps(plan.walkthrough, "prompt", lastFrame);
  return isWorked(plan) ? null : [];
}

/** Whether the page was given an input by now, and whether it may still be answering it. */
function findInputs(steps: readonly TimedStep[], nowMs: number): PageWatch["inputs"] {
  const begun = steps.filter(({ startMs }) => startMs <= nowMs);
  if (begun.length === 0) return "none";
  return begun.some(({ afterFrame }) => nowMs <= atFrame(afterFrame)) ? "now" : "before";
}

const asPlayed = (step: TimedStep): PlayedStep => ({
  ...step,
  wasFound: true,
  aim: null,
  quiet: null,
  before: null,
  after: null,
});

const FRAME_OF = { quiet: "quietFrame", before: "beforeFrame", after: "afterFrame" } as const;

/** What a frame is to an input, as far as the clip is to look at it. */
const listMoments = (step: PlayedStep, index: number, frame: number, { looksAt }: Clip): Moment[] =>
  MOMENTS.filter((moment) => step[FRAME_OF[moment]] === frame && looksAt(index, moment));

async function noteStates(
  page: OpenPage,
  { clip, steps, frame, png }: { clip: Clip; steps: readonly PlayedStep[]; frame: number; png: string },
): Promise<void> {
  const noted = steps.map((step, index) => ({ step, moments: listMoments(step, index, frame, clip) }));
  if (noted.every(({ moments }) => moments.length === 0)) return;
  const state = { png, dom: await readDomState(page) };
  for (const { step, moments } of noted) for (const moment of moments) step[moment] = state;
}

/** The inputs that are still to be sent, in time order. */
class DueInputs {
  private waiting: { input: TimedInput; step: PlayedStep }[] = [];

  constructor(steps: readonly PlayedStep[]) {
    this.replace(steps);
  }

  replace(steps: readonly PlayedStep[]): void {
    this.waiting = steps
      .flatMap((step) => step.inputs.map((input) => ({ input, step })))
      .sort((a, b) => a.input.atMs - b.input.atMs);
  }

  /** Whether an input is to be sent right after this frame. */
  isDueAt(frame: number): boolean {
    const [next] = this.waiting;
    return next !== undefined && frameFrom(next.input.atMs) <= frame;
  }

  /** Sends what is due. @returns whether anything was. */
  async sendAll(nowMs: number, inputs: InputSender): Promise<boolean> {
    const count = this.waiting.findIndex(({ input }) => input.atMs > nowMs);
    const now = this.waiting.splice(0, count === -1 ? this.waiting.length : count);
    for (const { input, step } of now) {
      const sent = await inputs.send(input);
      if (sent.kind === "not_found") step.wasFound = false;
      else step.aim ??= sent.aim;
    }
    return now.length > 0;
  }
}
