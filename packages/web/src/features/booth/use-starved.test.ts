import { fireEvent, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useStarved } from "./use-starved.js";

describe("a booth that is held up", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.restoreAllMocks();
    vi.useRealTimers();
  });

  /** Runs the clock so many times, each so much too late. */
  const run = (times: number, lateMs: number) => {
    const now = vi.spyOn(performance, "now");
    let at = now.getMockImplementation() ? 0 : performance.now();
    for (let i = 0; i < times; i++) {
      at += 500 + lateMs;
      now.mockReturnValue(at);
      vi.advanceTimersToNextTimer();
    }
  };

  it("says so when its clock is late again and again", () => {
    const onStarved = vi.fn();
    renderHook(() => useStarved(true, onStarved));
    run(1, 3000);
    expect(onStarved).not.toHaveBeenCalled();
    run(5, 3000);
    expect(onStarved).toHaveBeenCalledOnce();
  });

  it("says so at an input, when its clock stands still from one to another", () => {
    const onStarved = vi.fn();
    renderHook(() => useStarved(true, onStarved));
    const startedAt = performance.now();
    const now = vi.spyOn(performance, "now");
    for (const [atMs, told] of [
      [1000, 0],
      // The first one after a sleep.
      [60_000, 0],
      [60_300, 0],
      [60_900, 1],
    ] as const) {
      now.mockReturnValue(startedAt + atMs);
      fireEvent.keyDown(window, { key: "2" });
      expect(onStarved).toHaveBeenCalledTimes(told);
    }
  });

  it("says nothing on a busy machine, after a sleep, or out of sight", () => {
    const onStarved = vi.fn();
    renderHook(() => useStarved(true, onStarved));
    run(20, 800);
    run(1, 60_000);
    run(3, 0);
    vi.spyOn(document, "hidden", "get").mockReturnValue(true);
    run(10, 3000);
    expect(onStarved).not.toHaveBeenCalled();
    renderHook(() => useStarved(false, onStarved));
    run(10, 0);
    expect(onStarved).not.toHaveBeenCalled();
  });
});
