import { API, type PromptRatings } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** How entrants are rated on each prompt: the wall marks the best by it, figures show it. */
export const { useGetPromptRatingsQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getPromptRatings: build.query<PromptRatings, string>({
      query: (editionId) => toRequest(API.getPromptRatings, { params: { editionId } }),
      responseSchema: responseOf(API.getPromptRatings),
      providesTags: ["Standings"],
    }),
  }),
});
