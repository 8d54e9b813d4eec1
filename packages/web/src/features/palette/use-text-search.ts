import { LONGEST_SEARCH, type SearchHit } from "@tourney/core/contract";
import { skipToken } from "@reduxjs/toolkit/query";
import { useEffect, useState } from "react";
import { useSearchQuery } from "../../api/search-api.js";

/** So long nothing is asked after a key: most words are not finished yet. */
const PAUSE_MS = 200;
/** One letter is in every answer. */
const FEWEST_LETTERS = 2;
const NONE: SearchHit[] = [];

/** What of an edition's texts has the words that are typed, once typing pauses. */
export function useTextSearch(
  editionId: string | undefined,
  typed: string,
): { hits: SearchHit[]; isSearching: boolean } {
  const wanted = typed.trim().slice(0, LONGEST_SEARCH);
  const [words, setWords] = useState(wanted);
  useEffect(() => {
    const timer = setTimeout(() => setWords(wanted), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [wanted]);
  const isAsked = editionId !== undefined && words.length >= FEWEST_LETTERS;
  const { currentData, isFetching } = useSearchQuery(isAsked ? { editionId, words } : skipToken);
  return {
    hits: isAsked && words === wanted ? (currentData ?? NONE) : NONE,
    isSearching: wanted.length >= FEWEST_LETTERS && (words !== wanted || isFetching),
  };
}
