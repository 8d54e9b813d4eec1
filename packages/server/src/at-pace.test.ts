import { describe, expect, it } from "vitest";
import { atPace } from "./at-pace.js";

/** A reading that takes as long as the test says, on a clock that the test moves. */
function paced() {
  let clock = 0;
  const waiting: ((value: number) => void)[] = [];
  let reads = 0;
  const get = atPace(() => new Promise<number>((resolve) => waiting.push(resolve)), {
    keyOf: () => "",
    ...{ slowMs: 100, times: 8, longestMs: 6000, now: () => clock },
  });
  return {
    get,
    begun: () => waiting.length + reads,
    /** Ends the reading that is under way, so long after it began. */
    end: async (tookMs: number) => {
      clock += tookMs;
      waiting.shift()!(++reads);
      await new Promise((resolve) => setTimeout(resolve, 0));
    },
    pass: (ms: number) => (clock += ms),
  };
}

describe("what is read at a pace", () => {
  it("starts a reading after each call while readings are quick", async () => {
    const { get, end } = paced();
    const first = get("a");
    const meanwhile = [get("a"), get("a")];
    await end(20);
    expect(await first).toBe(1);
    await end(20);
    expect(await Promise.all(meanwhile)).toEqual([2, 2]);
    const after = get("a");
    await end(20);
    expect(await after).toBe(3);
  });

  it("is given as it was while it rests from a slow reading, and read for whoever comes next", async () => {
    const { get, end, pass, begun } = paced();
    const first = get("a");
    await end(500);
    expect(await first).toBe(1);
    pass(3900);
    expect(await get("a")).toBe(1);
    expect(begun()).toBe(1);
    pass(200);
    expect(await get("a")).toBe(1);
    expect(begun()).toBe(2);
    expect(await get("a")).toBe(1);
    await end(500);
    expect(await get("a")).toBe(2);
  });

  it("rests no longer than is said", async () => {
    const { get, end, pass, begun } = paced();
    void get("a");
    await end(5000);
    pass(5900);
    void get("a");
    expect(begun()).toBe(1);
    pass(200);
    void get("a");
    expect(begun()).toBe(2);
  });

  it("a caller of `fresh` gets a reading that began after the call", async () => {
    const { get, end, begun } = paced();
    const first = get("a");
    const fresh = [get.fresh("a"), get.fresh("a")];
    await end(500);
    expect(await first).toBe(1);
    // The others are still given what there is.
    expect(await get("a")).toBe(1);
    await end(500);
    expect(await Promise.all(fresh)).toEqual([2, 2]);
    expect(begun()).toBe(2);
    const whileItRests = get.fresh("a");
    expect(begun()).toBe(3);
    await end(500);
    expect(await whileItRests).toBe(3);
    expect(await get("a")).toBe(3);
  });

  it("does not rest from a failure", async () => {
    let fails = true;
    const get = atPace(() => (fails ? Promise.reject(new Error("away")) : Promise.resolve("there")), {
      keyOf: () => "",
      ...{ slowMs: 0, times: 8 },
    });
    await expect(get("a")).rejects.toThrow("away");
    fails = false;
    expect(await get("a")).toBe("there");
  });
});
