import { API, type BallotInput, type BoothQueue, type BoothState } from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

type Receipt = z.infer<typeof API.castBallot.response>;

export const {
  useGetBoothQuery,
  useJoinPanelMutation,
  useGetBoutsQuery,
  useCastBallotMutation,
  useTakeBackBallotMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getBooth: build.query<BoothState, string>({
      query: (panelToken) => toRequest(API.getBooth, { params: { panelToken } }),
      responseSchema: responseOf(API.getBooth),
      providesTags: ["Booth"],
    }),
    joinPanel: build.mutation<BoothState, { panelToken: string; name: string }>({
      query: ({ panelToken, name }) => toRequest(API.joinPanel, { params: { panelToken }, body: { name } }),
      invalidatesTags: ["Booth"],
    }),
    getBouts: build.query<BoothQueue, string>({
      query: (panelToken) => toRequest(API.getBouts, { params: { panelToken } }),
      responseSchema: responseOf(API.getBouts),
      providesTags: ["Booth"],
    }),
    castBallot: build.mutation<Receipt, { boutToken: string; ballot: z.input<typeof BallotInput> }>({
      query: ({ boutToken, ballot }) => toRequest(API.castBallot, { params: { boutToken }, body: ballot }),
      invalidatesTags: (result) => (result ? ["Booth"] : []),
    }),
    takeBackBallot: build.mutation<Receipt, string>({
      query: (panelToken) => toRequest(API.takeBackBallot, { params: { panelToken } }),
      invalidatesTags: (result) => (result ? ["Booth"] : []),
    }),
  }),
});
