import type { Standing, Standings } from "../contract/index.js";
import { formatMs, formatUsd } from "../format.js";

/** What a rating is held against. */
export const PRICES = { cost: "cost an entry", time: "median time" } as const;
export type Price = keyof typeof PRICES;

const priceOf = ({ costPerEntryUsd, medianTotalMs }: Standing, price: Price): number | null =>
  price === "cost" ? costPerEntryUsd : medianTotalMs;

export const formatPrice = (value: number, price: Price): string =>
  price === "cost" ? formatUsd(value) : formatMs(value);

/** How an entrant stands to the frontier: nobody better costs less, or as little. */
export type OnFrontier = "surely" | "by its rating" | "perhaps" | "no";

export interface Priced {
  row: Standing;
  price: number;
  frontier: OnFrontier;
}

/**
 * Entrants with a rating and a price, the cheapest first. On the frontier is whoever is rated above all that cost less or as much: "surely" when it is told apart from each of
 * them, "by its rating" when not. Off it, "perhaps" is whoever is told apart from none of those above it at its price or less, "no" whoever is told apart from one.
 *
 * @param standings rows best first; brackets are runs of rows that cannot be told apart.
 */
export function priceEntrants({ rows, brackets }: Pick<Standings, "rows" | "brackets">, price: Price): Priced[] {
  const isToldApart = (a: number, b: number) =>
    !brackets.some(([first, last]) => Math.min(a, b) >= first && Math.max(a, b) <= last);
  const priced = rows.flatMap((row, place) => {
    const own = priceOf(row, price);
    return own === null || row.rating === null ? [] : [{ row, place, price: own }];
  });
  return priced
    .map(({ row, place, price: own }): Priced => {
      const rivals = priced.filter((other) => other.place !== place && other.price <= own);
      const above = rivals.filter((other) => other.row.rating! > row.rating!);
      const frontier =
        above.length === 0
          ? rivals.every((other) => isToldApart(place, other.place))
            ? "surely"
            : "by its rating"
          : above.some((other) => isToldApart(place, other.place))
            ? "no"
            : "perhaps";
      return { row, price: own, frontier };
    })
    .toSorted((a, b) => a.price - b.price || b.row.rating! - a.row.rating!);
}

export const isOnFrontier = ({ frontier }: Priced): boolean => frontier === "surely" || frontier === "by its rating";
