import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { LullClearing } from "./clear-heap.js";

const MB = 1e6;
let held: { heapUsed: number; external: number };
const gc = vi.fn(() => (held = { heapUsed: 20 * MB, external: 0 }));

beforeEach(() => {
  vi.useFakeTimers();
  gc.mockClear();
  vi.stubGlobal("gc", gc);
  held = { heapUsed: 20 * MB, external: 50 * MB };
  vi.spyOn(process, "memoryUsage").mockImplementation((() => held) as unknown as typeof process.memoryUsage);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

it("clears the heap a second after the last answer, where much has been made since it did so last", () => {
  const clearing = new LullClearing(1000);
  clearing.begin();
  clearing.begin();
  clearing.end();
  vi.advanceTimersByTime(5000);
  expect(gc).not.toHaveBeenCalled();
  clearing.end();
  vi.advanceTimersByTime(900);
  expect(gc).not.toHaveBeenCalled();
  // Whoever asks meanwhile is answered first.
  clearing.begin();
  vi.advanceTimersByTime(5000);
  expect(gc).not.toHaveBeenCalled();
  clearing.end();
  vi.advanceTimersByTime(1000);
  expect(gc).toHaveBeenCalledTimes(1);
});

it("leaves it where little has been made", () => {
  const clearing = new LullClearing(1000);
  const answer = () => {
    clearing.begin();
    clearing.end();
    vi.advanceTimersByTime(1000);
  };
  answer();
  expect(gc).toHaveBeenCalledTimes(1);
  held = { heapUsed: 30 * MB, external: 15 * MB };
  answer();
  expect(gc).toHaveBeenCalledTimes(1);
  held = { heapUsed: 30 * MB, external: 30 * MB };
  answer();
  expect(gc).toHaveBeenCalledTimes(2);
});
