import { EventEmitter } from "node:events";
import { setTimeout as sleep } from "node:timers/promises";
import type { Request, Response } from "express";
import { describe, expect, it } from "vitest";
import { Lull } from "./lull.js";

const QUIET_MS = 60;

/** A lull that notes all requests but those to `/line`; a request lasts until `end` is called. */
function start() {
  const lull = new Lull();
  const note = lull.note(({ originalUrl }) => originalUrl !== "/line");
  let passed = 0;
  const ask = (originalUrl: string) => {
    const response = new EventEmitter();
    void note({ originalUrl } as unknown as Request, response as unknown as Response, () => passed++);
    return { end: () => response.emit("close") };
  };
  const waitMs = async (longestMs = Infinity) => {
    const startedAt = performance.now();
    await lull.wait(QUIET_MS, startedAt + longestMs);
    return performance.now() - startedAt;
  };
  return { ask, waitMs, countPassed: () => passed };
}

describe("a lull", () => {
  it("is there at once where nobody has asked for anything, or for a line alone", async () => {
    const { ask, waitMs, countPassed } = start();
    expect(await waitMs()).toBeLessThan(QUIET_MS);
    ask("/line");
    expect(await waitMs()).toBeLessThan(QUIET_MS);
    expect(countPassed()).toBe(1);
  });

  it("is waited for until the last request is answered, and for some time after that", async () => {
    const { ask, waitMs, countPassed } = start();
    const [first, second] = [ask("/a"), ask("/b")];
    const waited = waitMs();
    first.end();
    await sleep(2 * QUIET_MS);
    second.end();
    expect(await waited).toBeGreaterThanOrEqual(3 * QUIET_MS - 5);
    expect(countPassed()).toBe(2);
  });

  it("is waited for no longer than is said", async () => {
    const { ask, waitMs } = start();
    ask("/a");
    expect(await waitMs(1.5 * QUIET_MS)).toBeGreaterThanOrEqual(1.5 * QUIET_MS - 1);
  });
});
