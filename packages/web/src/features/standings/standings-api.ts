import { API, type Kind, type Standings } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export const { useGetStandingsQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getStandings: build.query<Standings, { editionId: string; kind: Kind | undefined }>({
      query: ({ editionId, kind }) => toRequest(API.getStandings, { params: { editionId }, query: { kind } }),
      responseSchema: responseOf(API.getStandings),
      providesTags: ["Standings"],
    }),
  }),
});
