import {
  API,
  type ConnectionTest,
  type Entrant,
  type EntrantInput,
  type EntrantsImportResult,
} from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** Entrants are needed by the grid of a run as well as by their own screen. */
export const { useListEntrantsQuery, useAddEntrantMutation, useImportEntrantsMutation, useTestConnectionMutation } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      listEntrants: build.query<Entrant[], void>({
        query: () => toRequest(API.listEntrants),
        responseSchema: responseOf(API.listEntrants),
        providesTags: ["Entrant"],
      }),
      addEntrant: build.mutation<Entrant, z.input<typeof EntrantInput>>({
        query: (body) => toRequest(API.addEntrant, { body }),
        invalidatesTags: ["Entrant", "Course", "Wall"],
      }),
      importEntrants: build.mutation<EntrantsImportResult, string>({
        query: (yaml) => toRequest(API.importEntrants, { body: { yaml } }),
        invalidatesTags: ["Entrant", "Course", "Wall"],
      }),
      testConnection: build.mutation<ConnectionTest, string>({
        query: (entrantId) => toRequest(API.testConnection, { params: { entrantId } }),
      }),
    }),
  });
