/** Frames after the start and after an input in which every frame is drawn: what begins late is seen to begin. */
const ATTENTIVE_FRAMES = 12;
/** How many frames a page at rest is left alone: a tenth of a second. What a timer begins meanwhile begins that much later at most. */
const RESTING_STRIDE = 6;

/**
 * Leaves out frames of a page on which nothing goes on from frame to frame. Its timers run all the same, since its time goes on; only
 * what a frame would bring (an observer's call, the start of a transition) comes with the next one that is drawn. It depends on the page
 * alone, so that it is the same in every recording.
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
