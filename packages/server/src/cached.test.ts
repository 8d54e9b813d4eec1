import { describe, expect, it, vi } from "vitest";
import { cached } from "./cached.js";

function start({ sparing = 0, tookMs = 0 } = {}) {
  let time = 0;
  let n = 0;
  const read = vi.fn(async (key: string) => {
    n += 1;
    const value = `${key} ${n}`;
    await Promise.resolve();
    time += tookMs;
    return value;
  });
  const get = cached(read, { keyOf: (key) => key, keptMs: 1000, sparing, now: () => time });
  return { get, read, pass: (ms: number) => (time += ms) };
}

describe("keep", () => {
  it("reads once for all who ask within the time, and each key by itself", async () => {
    const { get, read, pass } = start();
    expect(await Promise.all([get("a"), get("a"), get("b")])).toEqual(["a 1", "a 1", "b 2"]);
    pass(999);
    expect(await get("a")).toBe("a 1");
    expect(read).toHaveBeenCalledTimes(2);
  });

  it("gives out the value before while it reads anew, and only a little longer than it is good for", async () => {
    const { get, pass } = start();
    await get("a");
    pass(1500);
    expect(await get("a")).toBe("a 1");
    expect(await get("a")).toBe("a 2");
    pass(2001);
    expect(await get("a")).toBe("a 3");
  });

  it("spends one part in so many of the time on reading", async () => {
    const { get, pass } = start({ sparing: 20, tookMs: 100 });
    await get("a");
    pass(1999);
    expect(await get("a")).toBe("a 1");
    pass(1);
    await get("a");
    expect(await get("a")).toBe("a 2");
  });

  it("keeps no failure", async () => {
    const get = cached(vi.fn().mockRejectedValueOnce(new Error("no")).mockResolvedValue("yes"), {
      keyOf: String,
      keptMs: 1000,
    });
    await expect(get("a")).rejects.toThrow("no");
    expect(await get("a")).toBe("yes");
  });
});
