import type { ComparableEntry } from "@tourney/core/contract";
import type { Changes } from "../changes/changes.js";
import type { CompareRepository } from "./repository.js";
import { noSuchEntry } from "../entries/no-such-entry.js";

/** What stands beside an entry on its prompt. */
export function createCompareService({ compare }: { compare: CompareRepository }) {
  return {
    /** From now on holds what it has read until that changes. */
    follow: (changes: Pick<Changes, "of">) => compare.follow(changes),
    /** @throws TourneyError NOT_FOUND */
    async listComparable(entryId: string, editionId: string | null): Promise<ComparableEntry[]> {
      const found = await compare.listComparable(entryId, editionId);
      if (found.length > 0) return found;
      throw noSuchEntry(entryId);
    },
  };
}
export type CompareService = ReturnType<typeof createCompareService>;
