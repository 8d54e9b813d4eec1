import { API, type Run, type RunDetail, type RunInput } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

const changed = ["Run", "Course", "Wall"] as const;

export const { useListRunsQuery, useGetRunQuery, useStartRunMutation, useRetryRunMutation, useCancelRunMutation } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      listRuns: build.query<Run[], string>({
        query: (editionId) => toRequest(API.listRuns, { params: { editionId } }),
        responseSchema: responseOf(API.listRuns),
        providesTags: ["Run"],
      }),
      getRun: build.query<RunDetail, string>({
        query: (runId) => toRequest(API.getRun, { params: { runId } }),
        responseSchema: responseOf(API.getRun),
        providesTags: ["Run"],
      }),
      startRun: build.mutation<Run, RunInput>({
        query: (body) => toRequest(API.startRun, { body }),
        invalidatesTags: [...changed],
      }),
      retryRun: build.mutation<RunDetail, string>({
        query: (runId) => toRequest(API.retryRun, { params: { runId } }),
        invalidatesTags: [...changed],
      }),
      cancelRun: build.mutation<RunDetail, string>({
        query: (runId) => toRequest(API.cancelRun, { params: { runId } }),
        invalidatesTags: [...changed],
      }),
    }),
  });
