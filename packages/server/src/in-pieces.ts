import { setImmediate } from "node:timers/promises";

/** Whoever else is waiting is let in after so long. */
const PIECE_MS = 8;

/** Runs a long computation step by step, and lets requests be answered in between. */
export async function inPieces<T>(steps: Generator<unknown, T>): Promise<T> {
  let since = performance.now();
  for (;;) {
    const { done, value } = steps.next();
    if (done === true) return value;
    if (performance.now() - since > PIECE_MS) {
      await setImmediate();
      since = performance.now();
    }
  }
}
