import { WhatCounts } from "@tourney/core/contract";
import { pickCounts } from "@tourney/core/what-counts";
import { parseInput } from "../http/parse-input.js";

/**
 * What counts, as it stands in the address of the standings: `kind=game&broken=lose`; a kind can be said by itself.
 *
 * @throws InvalidInput that names what is wrong.
 */
export function readCounts({ counts = "", kind }: { counts?: string; kind?: string }): WhatCounts {
  const query = new URLSearchParams(counts);
  if (kind !== undefined) query.append("kind", kind);
  return parseInput(WhatCounts, pickCounts(query), "What counts");
}
