import { API, type Panel, type Run } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** What goes on by itself: runs and panels of an edition. */
export const { useListRunsQuery, useListPanelsQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    listRuns: build.query<Run[], string>({
      query: (editionId) => toRequest(API.listRuns, { params: { editionId } }),
      responseSchema: responseOf(API.listRuns),
      providesTags: ["Run"],
    }),
    listPanels: build.query<Panel[], string>({
      query: (editionId) => toRequest(API.listPanels, { params: { editionId } }),
      responseSchema: responseOf(API.listPanels),
      providesTags: ["Panel"],
    }),
  }),
});
