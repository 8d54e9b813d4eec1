import { describe, expect, it } from "vitest";
import { Restarts } from "./restarts.js";

describe("what ends by itself", () => {
  it("is started again after longer and longer waits, for ever", () => {
    const restarts = new Restarts(() => 0);
    expect(Array.from({ length: 9 }, () => restarts.noteEnd())).toEqual([
      500, 1000, 2000, 4000, 8000, 16_000, 30_000, 30_000, 30_000,
    ]);
    for (let i = 0; i < 1000; i++) expect(restarts.noteEnd()).toBe(30_000);
  });

  it("waits no longer than at first when it had lasted for minutes", () => {
    let now = 0;
    const restarts = new Restarts(() => now);
    restarts.noteEnd();
    restarts.noteStart();
    now += 60_000;
    expect(restarts.noteEnd()).toBe(1000);
    restarts.noteStart();
    now += 120_000;
    expect(restarts.noteEnd()).toBe(500);
  });
});
