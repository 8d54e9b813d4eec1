import { describe, expect, it, vi } from "vitest";
import { batch } from "./batch.js";

describe("batch", () => {
  it("does at once what comes alone, and together what comes meanwhile, up to the most", async () => {
    const sizes: number[] = [];
    const double = batch(
      async (items: readonly number[]) => {
        sizes.push(items.length);
        await new Promise((resolve) => setTimeout(resolve, 5));
        return items.map((item) => item * 2);
      },
      { most: 3 },
    );
    const first = double(1);
    await Promise.resolve();
    await Promise.resolve();
    const others = [2, 3, 4, 5].map(double);
    expect(await Promise.all([first, ...others])).toEqual([2, 4, 6, 8, 10]);
    expect(sizes).toEqual([1, 3, 1]);
    expect(await double(6)).toBe(12);
  });

  it("lets one that cannot be done take no other with it", async () => {
    const run = vi.fn(async (items: readonly number[]) => {
      await Promise.resolve();
      if (items.includes(2)) throw new Error("not two");
      return items;
    });
    const same = batch(run, { most: 10 });
    const results = await Promise.allSettled([1, 2, 3].map(same));
    expect(results.map(({ status }) => status)).toEqual(["fulfilled", "rejected", "fulfilled"]);
    expect(run.mock.calls.map(([items]) => items.length)).toEqual([3, 1, 1, 1]);
  });
});
