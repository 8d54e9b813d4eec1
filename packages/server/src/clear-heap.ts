/** Bytes. To clear the heap costs 100 to 200 ms of processor, which less is not worth. */
const MUCH_BYTES = 32e6;

/**
 * Clears the heap of a process in a lull, where so much has been made since it did so last: V8 would keep what an answer was made of until the next one. Needs the flag
 * `--expose-gc`, and does nothing without it.
 */
export class LullClearing {
  private lull: NodeJS.Timeout | undefined;
  private running = 0;
  private clearedTo = 0;

  /** @param lullMs so long after the last answer */
  constructor(private readonly lullMs: number) {}

  begin(): void {
    this.running++;
    clearTimeout(this.lull);
  }

  end(): void {
    this.running--;
    if (this.running === 0) this.lull = setTimeout(() => this.clear(), this.lullMs).unref();
  }

  private clear(): void {
    if (readBytes() < this.clearedTo + MUCH_BYTES) return;
    globalThis.gc?.();
    this.clearedTo = readBytes();
  }
}

/** Columns of ballots are outside the heap, and go with what holds them in it. */
function readBytes(): number {
  const { heapUsed, external } = process.memoryUsage();
  return heapUsed + external;
}
