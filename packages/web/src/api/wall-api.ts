import {
  AnswersImportResult,
  API,
  type Grid,
  type HandAnswer,
  type HandAnswerResult,
  type Wall,
} from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** The grid of prompts × entrants: the wall shows it and a run is planned on it. */
export const { useGetWallQuery, useGetGridQuery, useAddHandAnswerMutation, useImportAnswersMutation } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      getWall: build.query<Wall, { editionId: string; take: number; versions?: "all" | undefined }>({
        query: ({ editionId, take, versions }) =>
          toRequest(API.getWall, {
            params: { editionId },
            query: { take: take === 1 ? undefined : String(take), versions },
          }),
        responseSchema: responseOf(API.getWall),
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
