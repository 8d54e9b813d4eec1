import type { Standing } from "../contract/index.js";
import { describe, expect, it } from "vitest";
import { priceEntrants } from "./by-price.js";

const row = (name: string, rating: number | null, costPerEntryUsd: number | null) =>
  ({ entrant: { name }, rating, costPerEntryUsd, medianTotalMs: null }) as Standing;
const found = (rows: Standing[], brackets: [number, number][]) =>
  priceEntrants({ rows, brackets }, "cost").map(({ row, frontier }) => [row.entrant.name, frontier]);

describe("rating against price", () => {
  const rows = [row("dear", 1800, 0.03), row("good", 1700, 0.01), row("worse", 1600, 0.02), row("cheap", 1400, 0)];

  it("has on the frontier whoever is rated above all that cost less, cheapest first", () => {
    expect(found(rows, [])).toEqual([
      ["cheap", "surely"],
      ["good", "surely"],
      ["worse", "no"],
      ["dear", "surely"],
    ]);
  });

  it("says where the ballots cannot tell", () => {
    expect(found(rows, [[0, 2]])).toEqual([
      ["cheap", "surely"],
      ["good", "surely"],
      ["worse", "perhaps"],
      ["dear", "by its rating"],
    ]);
  });

  it("leaves out who has no price or no rating, and prefers the better at one price", () => {
    const same = [row("a", 1700, 0.01), row("b", 1500, 0.01), row("c", 1600, null), row("d", null, 0)];
    expect(found(same, [])).toEqual([
      ["a", "surely"],
      ["b", "no"],
    ]);
    expect(priceEntrants({ rows: same, brackets: [] }, "time")).toEqual([]);
  });
});
