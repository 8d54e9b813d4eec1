import type { ComparableEntry } from "@tourney/core/contract";
import type { Stamps } from "../changes/changes.js";
import type { CompareRepository } from "./repository.js";
import { noSuchEntry } from "../entries/no-such-entry.js";

/** What stands beside an entry on its prompt. */
export function createCompareService({ compare }: { compare: CompareRepository }) {
  return {
    /** From now on holds which entries there are until a cell changes. */
    follow: (ofCells: Stamps) => compare.follow(ofCells),
    /** @throws TourneyError NOT_FOUND */
    async listComparable(entryId: string, editionId: string | null): Promise<ComparableEntry[]> {
      const found = await compare.listComparable(entryId, editionId);
      if (found.length > 0) return found;
      throw noSuchEntry(entryId);
    },
  };
}
export type CompareService = ReturnType<typeof createCompareService>;
