import { API, type Judging, type ScoreSheet, type ScoreSheetInput } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** Score sheets: an entry shows and fills them in, the wall and the standings tally them. */
export const { useListSheetsQuery, useSaveSheetMutation, useRemoveSheetMutation, useGetJudgingQuery } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      listSheets: build.query<ScoreSheet[], string>({
        query: (entryId) => toRequest(API.listSheets, { params: { entryId } }),
        responseSchema: responseOf(API.listSheets),
        providesTags: (_result, _error, entryId) => [{ type: "Sheet", id: entryId }],
      }),
      saveSheet: build.mutation<ScoreSheet, { entryId: string; judge: string; sheet: ScoreSheetInput }>({
        query: ({ entryId, judge, sheet }) => toRequest(API.saveSheet, { params: { entryId, judge }, body: sheet }),
        responseSchema: responseOf(API.saveSheet),
        invalidatesTags: (_result, _error, { entryId }) => [{ type: "Sheet", id: entryId }, "Judging"],
      }),
      removeSheet: build.mutation<{ removed: boolean }, { entryId: string; judge: string }>({
        query: (params) => toRequest(API.removeSheet, { params }),
        invalidatesTags: (_result, _error, { entryId }) => [{ type: "Sheet", id: entryId }, "Judging"],
      }),
      getJudging: build.query<Judging, string>({
        query: (editionId) => toRequest(API.getJudging, { params: { editionId } }),
        responseSchema: responseOf(API.getJudging),
        providesTags: ["Judging"],
      }),
    }),
  });
