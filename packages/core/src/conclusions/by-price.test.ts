import type { Standing } from "../contract/index.js";
import { describe, expect, it } from "vitest";
import { breakTies, formatPrice, priceEntrants } from "./by-price.js";

const row = (name: string, rating: number | null, costPerEntryUsd: number | null) =>
  ({
    entrant: { name },
    rating,
    costPerEntryUsd,
    medianTotalMs: null,
    tokensPerEntry: null,
    tokensPerSecond: null,
  }) as Standing;
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

  it("takes fewer tokens and more of them a second for the lower price", () => {
    const withTokens = rows.map((one, at) => ({
      ...one,
      tokensPerEntry: 1000 * (at + 1),
      tokensPerSecond: 100 - 20 * at,
    }));
    const order = (price: "tokens" | "pace") =>
      priceEntrants({ rows: withTokens, brackets: [] }, price).map(({ row, price: own }) => [
        row.entrant.name,
        formatPrice(own, price),
      ]);
    expect(order("tokens")[0]).toEqual(["dear", "1,000 tokens"]);
    expect(order("pace")).toEqual([
      ["dear", "100 a second"],
      ["good", "80 a second"],
      ["worse", "60 a second"],
      ["cheap", "40 a second"],
    ]);
    const still = withTokens.map((one) => ({ ...one, tokensPerSecond: 0 }));
    expect(priceEntrants({ rows: still, brackets: [] }, "pace")).toEqual([]);
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

  it("breaks ties by price: the cheapest goes first of those whose ranks allow the place", () => {
    const ranked = (name: string, rating: number, price: number, rankRange: [number, number]) =>
      ({ ...row(name, rating, price), rankRange }) as Standing;
    const order = (ranks: Standing[]) =>
      breakTies(priceEntrants({ rows: ranks, brackets: [] }, "cost")).map(({ row: { entrant } }) => entrant.name);
    expect(
      order([ranked("a", 1700, 0.05, [1, 2]), ranked("b", 1650, 0.01, [1, 2]), ranked("c", 1500, 0, [3, 3])]),
    ).toEqual(["b", "a", "c"]);
    expect(order([ranked("a", 1700, 0.05, [1, 1]), ranked("b", 1650, 0, [2, 2])])).toEqual(["a", "b"]);
    expect(order([ranked("a", 1600, 0.01, [1, 2]), ranked("b", 1700, 0.01, [1, 2])])).toEqual(["b", "a"]);
    expect(order([])).toEqual([]);
  });
});
