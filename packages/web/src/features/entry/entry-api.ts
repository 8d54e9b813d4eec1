import { API, type AnswerMarks, type Attempt } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export const {
  useEditEntryMutation,
  useListAttemptsQuery,
  useRecordAgainMutation,
  useAcceptMismatchMutation,
  useMarkAnswerMutation,
  useChoosePartMutation,
  useSendCorrectionMutation,
  useLeaveEntryOutMutation,
  useTakeEntryInMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    listAttempts: build.query<Attempt[], string>({
      query: (generationId) => toRequest(API.listAttempts, { params: { generationId } }),
      responseSchema: responseOf(API.listAttempts),
    }),
    editEntry: build.mutation<{ entryId: string }, { entryId: string; files: { path: string; text: string }[] }>({
      query: ({ entryId, files }) => toRequest(API.editEntry, { params: { entryId }, body: { files } }),
      invalidatesTags: ["Entry", "Wall"],
    }),
    acceptMismatch: build.mutation<{ accepted: boolean }, { entryId: string; accepted: boolean }>({
      query: ({ entryId, ...body }) => toRequest(API.acceptMismatch, { params: { entryId }, body }),
      invalidatesTags: ["Entry", "Wall", "Standings", "Panel"],
    }),
    markAnswer: build.mutation<AnswerMarks, { entryId: string; marks: AnswerMarks }>({
      query: ({ entryId, marks }) => toRequest(API.markAnswer, { params: { entryId }, body: marks }),
      invalidatesTags: ["Entry", "Wall"],
    }),
    choosePart: build.mutation<{ entryId: string }, { entryId: string; part: string }>({
      query: ({ entryId, part }) => toRequest(API.choosePart, { params: { entryId }, body: { part } }),
      invalidatesTags: ["Entry", "Wall", "Standings", "Panel"],
    }),
    sendCorrection: build.mutation<
      { sent: number },
      { promptId: string; text: string; take: number; entrantIds?: string[] }
    >({
      query: ({ promptId, ...body }) => toRequest(API.sendCorrection, { params: { promptId }, body }),
      invalidatesTags: ["Entry", "Run", "Wall", "Course"],
    }),
    leaveEntryOut: build.mutation<{ leftOut: string | null }, { entryId: string; why: string }>({
      query: ({ entryId, why }) => toRequest(API.leaveEntryOut, { params: { entryId }, body: { why } }),
      invalidatesTags: (_result, _error, { entryId }) => [{ type: "Entry", id: entryId }, "Panel"],
    }),
    takeEntryIn: build.mutation<{ leftOut: string | null }, string>({
      query: (entryId) => toRequest(API.takeEntryIn, { params: { entryId } }),
      invalidatesTags: (_result, _error, id) => [{ type: "Entry", id }, "Panel"],
    }),
    recordAgain: build.mutation<{ renderId: string }, { entryId: string; stress: boolean }>({
      query: ({ entryId, stress }) => toRequest(API.recordAgain, { params: { entryId }, body: { stress } }),
      invalidatesTags: (_result, _error, { entryId: id }) => [{ type: "Entry", id }, "Wall", "Course"],
    }),
  }),
});
