import { createHash } from "node:crypto";
import type { StandingsBasis, WhatCounts } from "@tourney/core/contract";
import { judgeBallots, type PreparedBasis } from "@tourney/core/standings";

/** Names the ballots that count, and how: equal digests, equal ballots. */
export function digestCounted(basis: PreparedBasis, counts: WhatCounts): string {
  const leanOf = judgeBallots(basis, counts);
  const hash = createHash("sha256");
  const name = (list: StandingsBasis["voters"] | StandingsBasis["prompts"], at: number) => list[at]!.id;
  const { ballots, competitors } = basis;
  for (let ballot = 0; ballot < ballots.lean.length; ballot++) {
    const lean = leanOf(ballot);
    if (Number.isNaN(lean)) continue;
    const [left, right] = [competitors[ballots.left[ballot]!]!, competitors[ballots.right[ballot]!]!];
    hash.update(
      `${name(basis.voters, ballots.voter[ballot]!)} ${name(basis.prompts, ballots.prompt[ballot]!)} ${left.version.id} ${right.version.id} ${lean}\n`,
    );
  }
  return hash.digest("hex");
}
