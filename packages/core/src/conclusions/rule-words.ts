import type { BrokenRule, UndeliveredRule } from "../contract/index.js";

/** What becomes of blank and crashed entries: as the end of a sentence that begins with them. */
export const BROKEN_WORDS: Record<BrokenRule, string> = {
  pair: "are shown like any other",
  lose: "lose without being shown",
  leave_out: "are left out",
};

/** What becomes of places without a page, by the model's doing: as the end of a sentence that begins with them. */
export const UNDELIVERED_WORDS: Record<UndeliveredRule, string> = {
  lose: "loses without being shown",
  leave_out: "is left out",
};
