import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { MachineBusy, PageStuck, Patience } from "./patience.js";

let cpuMs = 0;
let patience: Patience;
const never = new Promise<never>(() => undefined);

beforeEach(() => {
  vi.useFakeTimers();
  cpuMs = 0;
  patience = new Patience(() => cpuMs);
});
afterEach(() => vi.useRealTimers());

/** Lets time pass on a machine that gives the browser a share of a processor. */
async function pass(seconds: number, share: number): Promise<void> {
  for (let i = 0; i < seconds * 10; i++) {
    cpuMs += 100 * share;
    await vi.advanceTimersByTimeAsync(100);
  }
}

describe("patience", () => {
  it("is with the page as long as it has not had its time, however long that takes", async () => {
    let error: unknown = null;
    patience.within(never, 10_000, "A frame").catch((thrown: unknown) => (error = thrown));
    await pass(40, 0.2);
    expect(error).toBeNull();
    await pass(4, 1);
    expect(error).toBeInstanceOf(PageStuck);
  });

  it("ends with the machine's fault when the browser is given next to nothing", async () => {
    let error: unknown = null;
    patience.within(never, 10_000, "A frame").catch((thrown: unknown) => (error = thrown));
    await pass(130, 0.01);
    expect(error).toBeInstanceOf(MachineBusy);
  });

  it("does not count what passed while nothing ran", async () => {
    let error: unknown = null;
    patience.within(never, 10_000, "A frame").catch((thrown: unknown) => (error = thrown));
    await pass(1, 1);
    vi.setSystemTime(Date.now() + 8 * 3600_000);
    await pass(1, 1);
    expect(error).toBeNull();
  });

  it("ends at once when nothing will come", async () => {
    const waiting = patience.within(never, 10_000, "A frame");
    patience.end(new Error("gone"));
    await expect(waiting).rejects.toThrow("gone");
    expect(vi.getTimerCount()).toBe(0);
  });

  it("gives the answer, and then looks no more", async () => {
    expect(await patience.within(Promise.resolve(7), 1000, "An answer")).toBe(7);
    expect(vi.getTimerCount()).toBe(0);
  });
});
