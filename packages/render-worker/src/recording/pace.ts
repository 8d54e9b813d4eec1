/** How many frames are looked at together. */
const WINDOW = 20;
/** So many windows in a row must be heavy: one alone may be a script that is compiled. */
const HEAVY_WINDOWS = 2;
/** A page that has not been heavy by then is let go on as it is. */
const LAST_FRAME = 150;
/** Processor time that a frame of an ordinary page stays far under. A canvas that fills the window takes 3 to 8 ms. */
const HEAVY_FRAME_MS = 45;
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
  private lastMs: number | null = null;
  private heavyWindows = 0;

  constructor(
    private readonly measureCpuMs: () => number,
    private readonly stride: number,
  ) {}

  /** To be told of every frame. @throws TooHeavy */
  check(frame: number): void {
    if (this.stride !== 1 || frame > LAST_FRAME || frame % WINDOW !== 0) return;
    const nowMs = this.measureCpuMs();
    const perFrameMs = this.lastMs === null ? 0 : (nowMs - this.lastMs) / WINDOW;
    this.lastMs = nowMs;
    this.heavyWindows = perFrameMs >= HEAVY_FRAME_MS ? this.heavyWindows + 1 : 0;
    if (this.heavyWindows >= HEAVY_WINDOWS) throw new TooHeavy(chooseStride(perFrameMs));
  }
}

/** How many frames to go on at a time, so that a second of page time stays within what a heavy page may take. */
export function chooseStride(perFrameMs: number): number {
  return STRIDES.find((stride) => (60 / stride) * perFrameMs <= BUDGET_PER_SECOND_MS) ?? STRIDES.at(-1)!;
}
