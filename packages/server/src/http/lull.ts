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

  /** Waits until nobody has asked for anything for so many milliseconds. */
  async wait(ms: number): Promise<void> {
    for (;;) {
      const left = this.under > 0 ? ms : this.lastEndedAt + ms - performance.now();
      if (left <= 0) return;
      await sleep(left, undefined, { ref: false });
    }
  }
}
