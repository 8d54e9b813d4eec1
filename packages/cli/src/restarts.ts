const FIRST_DELAY_MS = 500;
const LONGEST_DELAY_MS = 30_000;
/** A program that ran for two minutes counts as sound: its next wait is the shortest again. */
const SOUND_MS = 2 * 60_000;

/**
 * How long to wait before what ended by itself is started again: hardly at first, twice as long each time that it does not last, and half a
 * minute at most. It is never given up: a full disk gets room, a database comes back.
 */
export class Restarts {
  private inRow = 0;
  private startedAt: number | null = null;

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** It runs. */
  noteStart(): void {
    this.startedAt = this.now();
  }

  /** It ended, or did not come up. @returns ms to wait. */
  noteEnd(): number {
    const lastedMs = this.startedAt === null ? 0 : this.now() - this.startedAt;
    this.startedAt = null;
    if (lastedMs >= SOUND_MS) this.inRow = 0;
    return Math.min(LONGEST_DELAY_MS, FIRST_DELAY_MS * 2 ** Math.min(this.inRow++, 10));
  }
}
