import type { Standing, Standings } from "../contract/index.js";
import { formatMs, formatUsd } from "../format.js";

/** What a rating is held against. */
export const PRICES = {
  cost: "cost an entry",
  time: "median time",
  tokens: "tokens an entry",
  pace: "tokens a second",
} as const;
export type Price = keyof typeof PRICES;

const PER_SECOND = 1000;

/** What little of is better. Of the pace it is the milliseconds that a token takes, null where it has none. */
const READ: Record<Price, (row: Standing) => number | null> = {
  cost: ({ costPerEntryUsd }) => costPerEntryUsd,
  time: ({ medianTotalMs }) => medianTotalMs,
  tokens: ({ tokensPerEntry }) => tokensPerEntry,
  pace: ({ tokensPerSecond }) =>
    tokensPerSecond === null || tokensPerSecond === 0 ? null : PER_SECOND / tokensPerSecond,
};

const FORMATS: Record<Price, (value: number) => string> = {
  cost: formatUsd,
  time: formatMs,
  tokens: (value) => `${Math.round(value).toLocaleString("en")} tokens`,
  pace: (value) => (value === 0 ? "∞" : `${Math.round(PER_SECOND / value).toLocaleString("en")} a second`),
};

export const formatPrice = (value: number, price: Price): string => FORMATS[price](value);

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
    const own = READ[price](row);
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

/**
 * Entrants in the order of their ranks, with ties broken by price: each place goes to the cheapest of those whose ranks allow it, and to the higher
 * rated of two that cost the same.
 */
export function breakTies(priced: readonly Priced[]): Priced[] {
  const open = priced.toSorted((a, b) => a.price - b.price || b.row.rating! - a.row.rating!);
  const placed: Priced[] = [];
  while (open.length > 0) {
    const best = Math.min(...open.map(bestRank));
    // Where ranks leave a place to nobody, as an entrant without a price would have it, whoever is nearest has it.
    const place = Math.max(placed.length + 1, best);
    const next = open.findIndex((one) => bestRank(one) <= place);
    placed.push(...open.splice(next, 1));
  }
  return placed;
}

const bestRank = ({ row }: Priced): number => row.rankRange?.[0] ?? Infinity;
