import type { CompetitorVersion, Delivery, Standing } from "../contract/index.js";
import { formatDay } from "../format.js";

/** What sets an older version apart from the present one: "until 12 November", or its number. */
export const describeVersion = ({ number, isPresent, until }: CompetitorVersion): string | null =>
  isPresent ? null : until === null ? `version ${number}` : `until ${formatDay(until)}`;

/** A competitor's name: an entrant, or what it was until it was set up otherwise. */
export function nameOfCompetitor(
  competitor: { entrant: { name: string }; version: CompetitorVersion } | undefined,
): string {
  if (competitor === undefined) return "";
  const version = describeVersion(competitor.version);
  return version === null ? competitor.entrant.name : `${competitor.entrant.name}, ${version}`;
}

/** "41 of 42", and what is owed. */
export function describeDelivery({ pages, none, owed }: Delivery): { short: string; long: string } {
  const parts = [
    `${pages} of ${pages + none} delivered`,
    ...(none > 0 ? [`${none} without a page by the model's doing`] : []),
    ...(owed > 0 ? [`${owed} owed: the host's failures, cancelled or held`] : []),
  ];
  return { short: `${pages} of ${pages + none}`, long: parts.join("; ") };
}

/** "2–4": the ranks that the ballots support; never a bare 3 that they do not. */
export const formatRanks = (range: Standing["rankRange"]) =>
  range === null ? "—" : range[0] === range[1] ? String(range[0]) : `${range[0]}–${range[1]}`;
