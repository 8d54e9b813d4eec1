import { API, type RenderQueue, type RenderScope } from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** Recordings as such: who makes them, what waits, and making them anew. */
export const { useGetRenderQueueQuery, useRenderAgainMutation } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getRenderQueue: build.query<RenderQueue, string>({
      query: (editionId) => toRequest(API.getRenderQueue, { params: { editionId } }),
      responseSchema: responseOf(API.getRenderQueue),
      providesTags: ["Wall"],
    }),
    renderAgain: build.mutation<{ queued: number }, z.input<typeof RenderScope>>({
      query: (body) => toRequest(API.renderAgain, { body }),
      responseSchema: responseOf(API.renderAgain),
      invalidatesTags: ["Wall", "Entry", "Course"],
    }),
  }),
});
