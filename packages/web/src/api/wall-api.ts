import { API, type HandAnswer, type HandAnswerResult, type Wall } from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** The grid of prompts × entrants: the wall shows it and a run is planned on it. */
export const { useGetWallQuery, useAddHandAnswerMutation } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getWall: build.query<Wall, string>({
      query: (editionId) => toRequest(API.getWall, { params: { editionId } }),
      responseSchema: responseOf(API.getWall),
      providesTags: ["Wall"],
    }),
    addHandAnswer: build.mutation<HandAnswerResult, { editionId: string } & z.input<typeof HandAnswer>>({
      query: ({ editionId, ...body }) => toRequest(API.addHandAnswer, { params: { editionId }, body }),
      invalidatesTags: ["Wall", "Course"],
    }),
  }),
});
