import type { ComparableEntry } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { CompareRepository } from "./repository.js";

/** What stands beside an entry on its prompt. */
export function createCompareService({ compare }: { compare: CompareRepository }) {
  return {
    /** @throws TourneyError NOT_FOUND */
    async listComparable(entryId: string, editionId: string | null): Promise<ComparableEntry[]> {
      const found = await compare.listComparable(entryId, editionId);
      if (found.length > 0) return found;
      throw new TourneyError("NOT_FOUND", {
        message: `There is no entry ${entryId}.`,
        reason: "It may belong to another Tourney.",
        remedy: "Open the wall and choose a cell.",
      });
    },
  };
}
export type CompareService = ReturnType<typeof createCompareService>;
