import {
  API,
  type ConnectionTest,
  type Entrant,
  type EntrantInput,
  type EntrantsImportResult,
  type EntrantVersions,
} from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

const changed = ["Entrant", "Course", "Wall"] as const;

/** Entrants are needed by the grid of a run as well as by their own screen. */
export const {
  useListEntrantsQuery,
  useAddEntrantMutation,
  useReplaceEntrantMutation,
  useRetireEntrantMutation,
  useRemoveEntrantMutation,
  useListEntrantVersionsQuery,
  useImportEntrantsMutation,
  useTestConnectionMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    listEntrants: build.query<Entrant[], void>({
      query: () => toRequest(API.listEntrants),
      responseSchema: responseOf(API.listEntrants),
      providesTags: ["Entrant"],
    }),
    addEntrant: build.mutation<Entrant, z.input<typeof EntrantInput>>({
      query: (body) => toRequest(API.addEntrant, { body }),
      invalidatesTags: [...changed],
    }),
    replaceEntrant: build.mutation<Entrant, { entrantId: string; input: z.input<typeof EntrantInput> }>({
      query: ({ entrantId, input }) => toRequest(API.replaceEntrant, { params: { entrantId }, body: input }),
      invalidatesTags: [...changed],
    }),
    retireEntrant: build.mutation<Entrant, { entrantId: string; retired: boolean }>({
      query: ({ entrantId, retired }) => toRequest(API.retireEntrant, { params: { entrantId }, body: { retired } }),
      invalidatesTags: [...changed],
    }),
    removeEntrant: build.mutation<{ removed: boolean }, string>({
      query: (entrantId) => toRequest(API.removeEntrant, { params: { entrantId } }),
      invalidatesTags: [...changed],
    }),
    listEntrantVersions: build.query<EntrantVersions, string>({
      query: (entrantId) => toRequest(API.listEntrantVersions, { params: { entrantId } }),
      responseSchema: responseOf(API.listEntrantVersions),
      providesTags: ["Entrant"],
    }),
    importEntrants: build.mutation<EntrantsImportResult, string>({
      query: (yaml) => toRequest(API.importEntrants, { body: { yaml } }),
      invalidatesTags: [...changed],
    }),
    testConnection: build.mutation<ConnectionTest, string>({
      query: (entrantId) => toRequest(API.testConnection, { params: { entrantId } }),
    }),
  }),
});
