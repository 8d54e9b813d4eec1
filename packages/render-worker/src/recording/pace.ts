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
/** What a heavy page may take for a second of its time. */
const BUDGET_PER_SECOND_MS = 700;
const STRIDES = [2, 4, 6, 10, 15];

/** The page is too heavy to be drawn sixty times a second of its time. */
export class TooHeavy extends Error {
  override readonly name = "TooHeavy";

  constructor(readonly stride: number) {
    super(`One frame in ${stride} is to be drawn`);
  }
}

/**
 * Watches what the frames of a page cost in processor time, which unlike the time of day does not depend on what else the
 * machine does, so that the same page is drawn at the same pace every time.
 */
export class Pace {
  private readonly spentMs = new Map<number, number>();

  constructor(
    private readonly measureCpuMs: () => number,
    private readonly stride: number,
  ) {}

  /** To be told of every frame. @throws TooHeavy */
  check(frame: number): void {
    if (this.stride !== 1 || !SPANS.some(({ from, to }) => from === frame || to === frame)) return;
    const nowMs = this.measureCpuMs();
    this.spentMs.set(frame, nowMs);
    for (const { from, to, heavyMs } of SPANS.filter((span) => span.to === frame)) {
      const perFrameMs = (nowMs - (this.spentMs.get(from) ?? nowMs)) / (to - from);
      if (perFrameMs >= heavyMs) throw new TooHeavy(chooseStride(perFrameMs));
    }
  }
}

/** How many frames to go on at a time, so that a second of page time stays within what a heavy page may take. */
export function chooseStride(perFrameMs: number): number {
  return STRIDES.find((stride) => (60 / stride) * perFrameMs <= BUDGET_PER_SECOND_MS) ?? STRIDES.at(-1)!;
}
