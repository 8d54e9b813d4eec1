import { type SearchHit, splitWords } from "@tourney/core/contract";
import type { SearchRepository } from "./repository.js";

/** Of each sort: whoever wants more types another word. */
const MOST_HITS = 8;

/** Searches an edition's texts. */
export function createSearchService({ search }: { search: SearchRepository }) {
  return {
    /** What has all the words; nothing when there is none in what was typed. */
    search(editionId: string, typed: string): Promise<SearchHit[]> {
      const words = splitWords(typed);
      return words.length === 0 ? Promise.resolve([]) : search.find(editionId, words, MOST_HITS);
    },
  };
}
export type SearchService = ReturnType<typeof createSearchService>;
