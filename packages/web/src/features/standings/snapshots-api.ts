import { API, type StandingsChanges, type StandingsSnapshot, type WhatCounts } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

/** Standings as they were, and what changed since. */
export const { useListSnapshotsQuery, useTakeSnapshotMutation, useSetSnapshotMutation, useGetChangesQuery } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      listSnapshots: build.query<StandingsSnapshot[], string>({
        query: (editionId) => toRequest(API.listSnapshots, { params: { editionId } }),
        responseSchema: responseOf(API.listSnapshots),
        providesTags: ["Snapshot"],
      }),
      takeSnapshot: build.mutation<StandingsSnapshot, { editionId: string; name: string; counts: WhatCounts }>({
        query: ({ editionId, ...body }) => toRequest(API.takeSnapshot, { params: { editionId }, body }),
        responseSchema: responseOf(API.takeSnapshot),
        invalidatesTags: ["Snapshot"],
      }),
      setSnapshot: build.mutation<StandingsSnapshot, { snapshotId: string; removed: boolean }>({
        query: ({ snapshotId, removed }) => toRequest(API.setSnapshot, { params: { snapshotId }, body: { removed } }),
        responseSchema: responseOf(API.setSnapshot),
        invalidatesTags: ["Snapshot"],
      }),
      getChanges: build.query<StandingsChanges, { snapshotId: string; until: string | undefined }>({
        query: ({ snapshotId, until }) => toRequest(API.getChanges, { params: { snapshotId }, query: { until } }),
        responseSchema: responseOf(API.getChanges),
        providesTags: ["Snapshot", "Standings"],
      }),
    }),
  });
