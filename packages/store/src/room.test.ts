import { tmpdir } from "node:os";
import { describe, expect, it } from "vitest";
import { createRoom } from "./room.js";

describe("the room on a disk", () => {
  it("is what the disk says", async () => {
    const { freeBytes } = await createRoom(tmpdir()).read();
    expect(freeBytes).toBeGreaterThan(0);
    expect(await createRoom(tmpdir(), { leastBytes: freeBytes * 2 }).read()).toMatchObject({ isLow: true });
  });

  it("is waited for while there is too little", async () => {
    const free = [10, 20, 99, 100, 7];
    const room = createRoom("/", { leastBytes: 100, everyMs: 1, readFree: () => Promise.resolve(free.shift()!) });
    await room.untilEnough();
    expect(free).toEqual([7]);
  });

  it("is not waited for by what is told to stop", async () => {
    const stop = new AbortController();
    const room = createRoom("/", { leastBytes: 100, everyMs: 60_000, readFree: () => Promise.resolve(1) });
    const waiting = room.untilEnough(stop.signal);
    stop.abort();
    await waiting;
  });
});
