import type { Standings } from "../contract/index.js";
import { defuse, keyOfVersion } from "./ballot-lines.js";

export const STANDINGS_COLUMNS = [
  ...["rank_low", "rank_high", "entrant", "name", "maker", "version", "rating", "rating_low", "rating_high", "group"],
  ...["ballots", "works_share", "pages", "no_page", "owed", "clean_share", "cost_usd", "median_seconds", "sample"],
] as const;

/** The rows of a table of standings, best first, numbers unrounded; what has no value is an empty cell. */
export function toStandingsCells({ rows }: Standings): string[][] {
  const number = (value: number | null) => (value === null ? "" : String(value));
  return rows.map((row) => {
    const { entrant, version, rating, halfWidth, rankRange, component, delivery } = row;
    const end = (by: 1 | -1) => (rating === null || halfWidth === null ? null : rating + by * halfWidth);
    return [
      ...[number(rankRange?.[0] ?? null), number(rankRange?.[1] ?? null)],
      ...[defuse(keyOfVersion(entrant.key, version)), defuse(entrant.name), defuse(entrant.maker)],
      ...[number(version.number), number(rating), number(end(-1)), number(end(1)), number(component)],
      ...[number(row.ballots), number(row.worksShare)],
      ...[number(delivery.pages), number(delivery.none), number(delivery.owed)],
      ...[number(row.cleanShare), number(row.costPerEntryUsd)],
      number(row.medianTotalMs === null ? null : row.medianTotalMs / 1000),
      String(entrant.sample),
    ];
  });
}
