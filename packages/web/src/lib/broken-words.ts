import type { BrokenRule } from "@tourney/core/contract";

/** What becomes of blank and crashed entries: as the end of a sentence that begins with them. */
export const BROKEN_WORDS: Record<BrokenRule, string> = {
  pair: "are shown like any other",
  lose: "lose without being shown",
  leave_out: "are left out",
};
