/** The page did not answer, although its processes were given the time to: it is stuck in a loop, or drowning. */
export class PageStuck extends Error {
  override readonly name = "PageStuck";
}

/** Nothing came of a wait, and the browser was hardly given a processor: no word about the page. */
export class MachineBusy extends Error {
  override readonly name = "MachineBusy";
}

const LOOK_EVERY_MS = 200;
/** A browser that gets nowhere for so long, without having used what it was allowed, is kept from it by the machine. */
const STARVED_MS = 120_000;

interface Wait {
  what: string;
  limitMs: number;
  starvedMs: number;
  /** What the processes had used when the wait was first looked at. */
  sinceMs: number | null;
  looks: number;
  giveUp: (error: Error) => void;
}

/**
 * Waits for a browser by the processor time that its own processes use, which on a busy machine, or on one that slept in between,
 * is what the page had of the wait. Who waits is told which of the two it was: the page had its time, or the machine gave none.
 */
export class Patience {
  private readonly waits = new Set<Wait>();
  private timer: NodeJS.Timeout | undefined;

  /** @param measureCpuMs processor time that the browser's processes have used so far. */
  constructor(private readonly measureCpuMs: () => number) {}

  /**
   * Begins to wait.
   *
   * @param limitMs processor time that the browser may use meanwhile.
   * @param starvedMs how long the wait may last when the browser is given less. A machine that slept counts as one look.
   * @returns ends the wait.
   */
  begin(
    what: string,
    { limitMs, starvedMs = STARVED_MS }: { limitMs: number; starvedMs?: number },
    giveUp: Wait["giveUp"],
  ): () => void {
    const wait: Wait = { what, limitMs, starvedMs, sinceMs: null, looks: 0, giveUp };
    this.waits.add(wait);
    this.timer ??= setInterval(() => this.look(), LOOK_EVERY_MS);
    return () => {
      this.waits.delete(wait);
      if (this.waits.size === 0) this.rest();
    };
  }

  /** Ends every wait with an error, as when the browser is gone and nothing will come. */
  end(error: Error): void {
    const waits = [...this.waits];
    this.waits.clear();
    this.rest();
    for (const { giveUp } of waits) giveUp(error);
  }

  /** Waits for an answer. @throws PageStuck, MachineBusy, or what `end` was given */
  async within<T>(answer: Promise<T>, limitMs: number, what: string): Promise<T> {
    let end = () => {};
    const tooLong = new Promise<never>((_, reject) => {
      end = this.begin(what, { limitMs }, reject);
    });
    try {
      return await Promise.race([answer, tooLong]);
    } finally {
      end();
    }
  }

  private rest(): void {
    clearInterval(this.timer);
    this.timer = undefined;
  }

  private look(): void {
    const nowMs = this.measureCpuMs();
    for (const wait of this.waits) {
      wait.sinceMs ??= nowMs;
      wait.looks++;
      const usedMs = nowMs - wait.sinceMs;
      const isStuck = usedMs >= wait.limitMs;
      if (!isStuck && wait.looks * LOOK_EVERY_MS < wait.starvedMs) continue;
      this.waits.delete(wait);
      const figures = `${(usedMs / 1000).toFixed(1)} s of processor time`;
      wait.giveUp(
        isStuck
          ? new PageStuck(`${wait.what}: nothing came in ${figures}`)
          : new MachineBusy(`${wait.what}: nothing came, but the browser got only ${figures}`),
      );
    }
    if (this.waits.size === 0) this.rest();
  }
}
