import { expect, it } from "vitest";
import { restOfTotal } from "./ballot-total.js";

it("rests a hundred times as long as counting it took, but not where there are few ballots or it was quick", () => {
  expect(restOfTotal(50, 10_000)).toBe(5000);
  expect(restOfTotal(19, 2_000_000)).toBe(0);
  expect(restOfTotal(5000, 9_999)).toBe(0);
});
