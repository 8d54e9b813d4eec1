/** Frames after the start and after an input in which every frame is drawn: what begins late is seen to begin. */
const ATTENTIVE_FRAMES = 12;
/** How many frames a page at rest is left alone: a tenth of a second. What a timer begins meanwhile begins that much later at most. */
const RESTING_STRIDE = 6;

/**
 * Draws a page that has no animation and waits for no frame ten times a second instead of sixty. Its timers keep their times, because
 * page time goes on. An observer's call, or a transition that a timer starts, comes with the next drawn frame: at most 0.1 s later.
 * Only the page decides which frames are drawn, so every recording of it draws the same ones.
 */
export class Rest {
  private isResting = false;
  private attentiveUntil = ATTENTIVE_FRAMES;
  private lastFrame = 0;

  constructor(
    private readonly isAtRest: () => Promise<boolean>,
    private readonly isAllowed: boolean,
  ) {}

  /** Whether a frame that nothing else needs can be left out. */
  leavesOut(frame: number): boolean {
    return this.isResting && frame - this.lastFrame < RESTING_STRIDE;
  }

  /** To be told of every frame that was drawn. */
  async look(frame: number): Promise<void> {
    const isDue = this.isResting || frame % RESTING_STRIDE === 0;
    this.lastFrame = frame;
    if (!this.isAllowed || frame < this.attentiveUntil || !isDue) return;
    this.isResting = await this.isAtRest();
  }

  /** The page was sent something. */
  end(frame: number): void {
    this.isResting = false;
    this.attentiveUntil = frame + ATTENTIVE_FRAMES;
  }
}
