import type { BallotScope } from "@tourney/core/contract";

/** How the address names what ballots are listed of. */
export const SCOPE_NAMES = {
  voterId: "ballotsOf",
  ofId: "of",
  againstId: "against",
  promptId: "on",
  panelId: "panel",
} as const satisfies Record<keyof BallotScope, string>;

/** Where the ballots stand one by one that a figure is made of: those that count. */
export function ballotsPath(scope: BallotScope): string {
  const search = new URLSearchParams({ ballots: "that count" });
  for (const [name, parameter] of Object.entries(SCOPE_NAMES)) {
    const value = scope[name as keyof BallotScope];
    if (value !== undefined) search.set(parameter, value);
  }
  return `/voting?${search.toString()}#ballots`;
}
