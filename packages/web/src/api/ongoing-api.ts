import { API, type Panel, type Run } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

const runs = (editionId: string) => toRequest(API.listRuns, { params: { editionId } });
const panels = (editionId: string) => toRequest(API.listPanels, { params: { editionId } });

/**
 * What goes on by itself: runs and panels of an edition. They are watched apart from where they are listed: lists rest while nobody looks at the
 * window, which is when an end is to be told.
 */
export const { useListRunsQuery, useListPanelsQuery, useWatchRunsQuery, useWatchPanelsQuery } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      listRuns: build.query<Run[], string>({
        query: runs,
        responseSchema: responseOf(API.listRuns),
        providesTags: ["Run"],
      }),
      listPanels: build.query<Panel[], string>({
        query: panels,
        responseSchema: responseOf(API.listPanels),
        providesTags: ["Panel"],
      }),
      watchRuns: build.query<Run[], string>({ query: runs, responseSchema: responseOf(API.listRuns) }),
      watchPanels: build.query<Panel[], string>({ query: panels, responseSchema: responseOf(API.listPanels) }),
    }),
  });
