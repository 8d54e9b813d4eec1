import {
  AnswersImportResult,
  API,
  type Grid,
  type HandAnswer,
  type HandAnswerResult,
  type Strip,
  type WallAnswer,
} from "@tourney/core/contract";
import type * as z from "zod";
import { askWhatChanged } from "./ask-what-changed.js";
import { joinWall } from "./join-wall.js";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** The grid of prompts × entrants: the wall shows it and a run is planned on it. */
export const {
  useGetWallQuery,
  useGetStripQuery,
  useGetGridQuery,
  useAddHandAnswerMutation,
  useImportAnswersMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getWall: build.query<
      WallAnswer,
      { editionId: string; take: number; round?: number | undefined; versions?: "all" | undefined }
    >({
      queryFn: ({ editionId, take, round = 0, versions }, _api, _options, ask) =>
        askWhatChanged(
          toRequest(API.getWall, {
            params: { editionId },
            query: {
              take: take === 1 ? undefined : String(take),
              round: round === 0 ? undefined : String(round),
              versions,
            },
          }),
          { ask, schema: responseOf(API.getWall), follow: { cursorOf: ({ cursor }) => cursor, join: joinWall } },
        ),
      // What has not changed is the same object already, and going through thousands of cells for what is equal would cost more than it saves.
      structuralSharing: false,
      providesTags: ["Wall"],
    }),
    /** All pictures of a cell, which are asked for when somebody goes through them. */
    getStrip: build.query<Strip, { entryId: string; edition: string }>({
      query: ({ entryId, edition }) => toRequest(API.getStrip, { params: { entryId }, query: { edition } }),
      responseSchema: responseOf(API.getStrip),
      providesTags: ["Wall"],
    }),
    getGrid: build.query<Grid, string>({
      query: (editionId) => toRequest(API.getGrid, { params: { editionId } }),
      responseSchema: responseOf(API.getGrid),
      providesTags: ["Wall"],
    }),
    addHandAnswer: build.mutation<HandAnswerResult, { editionId: string } & z.input<typeof HandAnswer>>({
      query: ({ editionId, ...body }) => toRequest(API.addHandAnswer, { params: { editionId }, body }),
      invalidatesTags: ["Wall", "Course"],
    }),
    importAnswers: build.mutation<AnswersImportResult, { editionId: string; file: File }>({
      query: ({ editionId, file }) => ({
        url: `api/editions/${editionId}/answers/${encodeURIComponent(file.name)}`,
        method: "PUT",
        body: file,
        headers: { "Content-Type": "application/octet-stream" },
      }),
      responseSchema: AnswersImportResult,
      invalidatesTags: ["Wall", "Course"],
    }),
  }),
});
