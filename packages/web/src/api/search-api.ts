import { API, type SearchHit } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** Full text over an edition's answers, findings and notes. */
export const { useSearchQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    search: build.query<SearchHit[], { editionId: string; words: string }>({
      query: ({ editionId, words }) => toRequest(API.search, { params: { editionId }, query: { words } }),
      responseSchema: responseOf(API.search),
      keepUnusedDataFor: 10,
    }),
  }),
});
