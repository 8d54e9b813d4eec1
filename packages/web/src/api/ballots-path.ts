import { type BallotScope, EVERYTHING, type WhatCounts } from "@tourney/core/contract";
import { isEverything, writeCounts } from "@tourney/core/what-counts";

/** How the address names what ballots are listed of. */
export const SCOPE_NAMES = {
  voterId: "ballotsOf",
  ofId: "of",
  againstId: "against",
  promptId: "on",
  panelId: "panel",
  contest: "contest",
  counting: "counting",
} as const satisfies Record<keyof BallotScope, string>;

/** Where the ballots stand one by one that a figure is made of: those that count, by what is chosen on the standings. */
export function ballotsPath(of: Omit<BallotScope, "counting">, counts: WhatCounts = EVERYTHING): string {
  const counting = isEverything(counts) ? undefined : new URLSearchParams(writeCounts(counts)).toString();
  const scope: BallotScope = { ...of, counting };
  const search = new URLSearchParams({ ballots: "that count" });
  for (const [name, parameter] of Object.entries(SCOPE_NAMES)) {
    const value = scope[name as keyof BallotScope];
    if (value !== undefined) search.set(parameter, value);
  }
  return `/voting?${search.toString()}#ballots`;
}
