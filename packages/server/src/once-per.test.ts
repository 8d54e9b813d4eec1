import { expect, it, vi } from "vitest";
import { oncePer } from "./once-per.js";

it("calls the function once for each object, even if it returns undefined, and again for an equal object", () => {
  const make = vi.fn(([first]: readonly number[]) => first);
  const firstOf = oncePer(make);
  const [some, none] = [[1, 2], [] as number[]];
  expect([firstOf(some), firstOf(some), firstOf(none), firstOf(none), firstOf([1, 2])]).toEqual([
    1,
    1,
    undefined,
    undefined,
    1,
  ]);
  expect(make).toHaveBeenCalledTimes(3);
});
