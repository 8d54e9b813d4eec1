/**
 * Spans of frames, each with the processor time a frame that is heavy. What is drawn is often worked off in bulk, so that single
 * frames say little; a script that is compiled at the start costs a second or two once, which is not to be taken for it. An
 * ordinary page takes 3 to 15 ms a frame.
 */
const SPANS = [
  { from: 10, to: 30, heavyMs: 80 },
  { from: 10, to: 36, heavyMs: 60 },
  { from: 10, to: 60, heavyMs: 40 },
  { from: 60, to: 120, heavyMs: 40 },
];
const MARKS = [...new Set(SPANS.flatMap(({ from, to }) => [from, to]))];
const LAST_MARK = Math.max(...MARKS);
/** What a heavy page may take for a second of its time. */
const BUDGET_PER_SECOND_MS = 700;
const STRIDES = [2, 4, 6, 10, 15];

/** How a page is played. The same for all its clips that are compared. */
export interface Pacing {
  /** How many frames of page time to go on at a time: 1, or more for a heavy page. */
  stride: number;
  /** In which frames WebGL draws: in those that are seen, in the one before each as well, for pages that do not draw in every frame, or in all. */
  draws: "seen" | "around" | "all";
}

/** How every page is played at first. */
export const LIGHT: Pacing = { stride: 1, draws: "seen" };

/** This recording is of no use: the recorder has to make another, with the given changes to its pacing. */
export class PlayedWrongly extends Error {
  override readonly name = "PlayedWrongly";

  constructor(
    readonly change: Partial<Pacing>,
    reason: string,
  ) {
    super(reason);
  }
}

/**
 * Watches what the frames of a page cost in processor time, which unlike the time of day does not depend on what else the
 * machine does, so that the same page is drawn at the same pace every time. What is shown is drawn at any pace, and does not count.
 */
export class Pace {
  private readonly reached = new Map<number, { frame: number; spentMs: number }>();
  private shownMs = 0;

  constructor(
    private readonly measureCpuMs: () => number,
    private readonly stride: number,
  ) {}

  /** Draws a frame. @throws PlayedWrongly when the page is too heavy to be given every frame. */
  async draw<T>(frame: number, { isShown }: { isShown: boolean }, advance: () => Promise<T>): Promise<T> {
    if (this.stride !== 1 || frame > LAST_MARK + 1) return advance();
    const before = isShown ? this.measureCpuMs() : 0;
    const drawn = await advance();
    if (isShown) this.shownMs += this.measureCpuMs() - before;
    this.check(frame);
    return drawn;
  }

  private check(frame: number): void {
    const passed = new Set(MARKS.filter((mark) => mark <= frame && !this.reached.has(mark)));
    if (passed.size === 0) return;
    const spentMs = this.measureCpuMs() - this.shownMs;
    for (const mark of passed) this.reached.set(mark, { frame, spentMs });
    for (const { from, to, heavyMs } of SPANS) {
      const begun = this.reached.get(from);
      if (!passed.has(to) || !begun || begun.frame === frame) continue;
      const perFrameMs = (spentMs - begun.spentMs) / (frame - begun.frame);
      if (perFrameMs < heavyMs) continue;
      const stride = chooseStride(perFrameMs);
      throw new PlayedWrongly({ stride }, `One frame in ${stride} is to be drawn`);
    }
  }
}

/** How many frames to go on at a time, so that a second of page time stays within what a heavy page may take. */
export function chooseStride(perFrameMs: number): number {
  return STRIDES.find((stride) => (60 / stride) * perFrameMs <= BUDGET_PER_SECOND_MS) ?? STRIDES.at(-1)!;
}
