import { API, type ComparableEntry, type EntryDetail } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** One entry with all that is known of it, and what it can be put beside. */
export const { useGetEntryQuery, useListComparableQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getEntry: build.query<EntryDetail, { entryId: string; edition: string | undefined }>({
      query: ({ entryId, edition }) => toRequest(API.getEntry, { params: { entryId }, query: { edition } }),
      responseSchema: responseOf(API.getEntry),
      providesTags: (_result, _error, { entryId }) => [{ type: "Entry", id: entryId }],
    }),
    listComparable: build.query<ComparableEntry[], { entryId: string; edition: string | undefined }>({
      query: ({ entryId, edition }) => toRequest(API.listComparable, { params: { entryId }, query: { edition } }),
      responseSchema: responseOf(API.listComparable),
      providesTags: ["Entry", "Wall", "Standings"],
    }),
  }),
});
