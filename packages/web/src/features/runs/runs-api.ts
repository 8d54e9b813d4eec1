import { API, type Run, RunDetail, type RunPlan, type RunRequest } from "@tourney/core/contract";
import { pageLine } from "../../api/page-line.js";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

const changed = ["Run", "Wall", "Course"] as const;

type ChangeOf<Extra = unknown> = { runId: string } & Extra;

export const {
  useGetRunQuery,
  usePlanRunQuery,
  useStartRunMutation,
  useRetryRunMutation,
  useCancelRunMutation,
  usePauseRunMutation,
  useResumeRunMutation,
  useChangeRunMutation,
  useExtendRunMutation,
  useTryEndpointMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getRun: build.query<RunDetail, string>({
      query: (runId) => toRequest(API.getRun, { params: { runId } }),
      responseSchema: responseOf(API.getRun),
      providesTags: ["Run"],
      /** The server pushes the run whenever it moves. */
      async onCacheEntryAdded(runId, entry) {
        await entry.cacheDataLoaded.catch(() => undefined);
        const close = pageLine.watch("run", runId, (data) => {
          const run = RunDetail.safeParse(data);
          if (run.success) entry.updateCachedData(() => run.data);
        });
        await entry.cacheEntryRemoved;
        close();
      },
    }),
    planRun: build.query<RunPlan, RunRequest>({
      query: (body) => toRequest(API.planRun, { body }),
      responseSchema: responseOf(API.planRun),
      providesTags: ["Run", "Entrant"],
    }),
    startRun: build.mutation<Run, RunRequest>({
      query: (body) => toRequest(API.startRun, { body }),
      invalidatesTags: [...changed],
    }),
    retryRun: build.mutation<RunDetail, ChangeOf<{ generationIds?: string[] }>>({
      query: ({ runId, ...body }) => toRequest(API.retryRun, { params: { runId }, body }),
      invalidatesTags: [...changed],
    }),
    tryEndpoint: build.mutation<{ ended: number }, string>({
      query: (endpointId) => toRequest(API.tryEndpoint, { params: { endpointId } }),
      invalidatesTags: [...changed],
    }),
    cancelRun: build.mutation<RunDetail, string>({
      query: (runId) => toRequest(API.cancelRun, { params: { runId } }),
      invalidatesTags: [...changed],
    }),
    pauseRun: build.mutation<RunDetail, string>({
      query: (runId) => toRequest(API.pauseRun, { params: { runId } }),
      invalidatesTags: ["Run"],
    }),
    resumeRun: build.mutation<RunDetail, string>({
      query: (runId) => toRequest(API.resumeRun, { params: { runId } }),
      invalidatesTags: ["Run"],
    }),
    changeRun: build.mutation<RunDetail, ChangeOf<{ budgetUsd: number | null }>>({
      query: ({ runId, ...body }) => toRequest(API.changeRun, { params: { runId }, body }),
      invalidatesTags: [...changed],
    }),
    extendRun: build.mutation<RunDetail, ChangeOf<{ entrantIds: string[] }>>({
      query: ({ runId, ...body }) => toRequest(API.extendRun, { params: { runId }, body }),
      invalidatesTags: [...changed],
    }),
  }),
});
