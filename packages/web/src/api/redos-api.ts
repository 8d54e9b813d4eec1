import { API, type MendRequest, type Redo, type RedoRequest } from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

const CHANGED = ["Entry", "Wall", "Run", "Course", "Standings", "Panel"] as const;

/** Asking for takes again, and for mends: from the wall, an entry, or a run. */
export const { useListRedosQuery, useRedoTakesMutation, useUndoRedoMutation, useSendMendsMutation } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      listRedos: build.query<Redo[], string>({
        query: (editionId) => toRequest(API.listRedos, { params: { editionId } }),
        responseSchema: responseOf(API.listRedos),
        providesTags: ["Run"],
      }),
      redoTakes: build.mutation<Redo, z.input<typeof RedoRequest>>({
        query: (body) => toRequest(API.redoTakes, { body }),
        responseSchema: responseOf(API.redoTakes),
        invalidatesTags: [...CHANGED],
      }),
      undoRedo: build.mutation<Redo, string>({
        query: (redoId) => toRequest(API.undoRedo, { params: { redoId } }),
        responseSchema: responseOf(API.undoRedo),
        invalidatesTags: [...CHANGED],
      }),
      sendMends: build.mutation<{ sent: number }, z.input<typeof MendRequest>>({
        query: (body) => toRequest(API.sendMends, { body }),
        invalidatesTags: ["Entry", "Wall", "Run", "Course"],
      }),
    }),
  });
