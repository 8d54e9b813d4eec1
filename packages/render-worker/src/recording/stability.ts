import type { Stability } from "@tourney/core/contract";
import type { Gathered } from "./clip.js";

type Compared = Pick<Gathered, "outcome" | "pictures" | "log">;

/** What was not the same in several recordings of one page: its outcome, its pictures by their time, its log. */
export function compareRecordings(first: Compared, others: readonly Compared[]): Stability {
  const differing = new Set<string>();
  for (const other of others) {
    if (other.outcome !== first.outcome) differing.add(`outcome (${first.outcome}, ${other.outcome})`);
    if (other.pictures.length !== first.pictures.length)
      differing.add(`number of frames (${first.pictures.length}, ${other.pictures.length})`);
    for (const [index, { atMs, png }] of first.pictures.entries())
      if (other.pictures[index] !== undefined && other.pictures[index].png !== png)
        differing.add(`frame at ${(atMs / 1000).toFixed(1)} s`);
    if (JSON.stringify(other.log) !== JSON.stringify(first.log)) differing.add("log");
  }
  return { recordings: others.length + 1, isStable: differing.size === 0, differing: [...differing] };
}
