import { setTimeout as sleep } from "node:timers/promises";
import type { Request, RequestHandler } from "express";

/** Knows when nobody asks the server for anything: work that nobody waits for is done then. */
export class Lull {
  private under = 0;
  private lastEndedAt = -Infinity;

  /** Notes requests from their beginning to their end: those that somebody waits for. */
  note =
    (isAwaited: (request: Request) => boolean): RequestHandler =>
    (request, response, next) => {
      if (!isAwaited(request)) {
        next();
        return;
      }
      this.under++;
      response.on("close", () => {
        this.under--;
        this.lastEndedAt = performance.now();
      });
      next();
    };

  /** Waits until nobody has asked for anything for so many milliseconds. @param until of the process's clock: it waits no longer than that */
  async wait(ms: number, until = Infinity): Promise<void> {
    for (;;) {
      const now = performance.now();
      const left = Math.min(until - now, this.under > 0 ? ms : this.lastEndedAt + ms - now);
      if (left <= 0) return;
      await sleep(left, undefined, { ref: false });
    }
  }
}
