import {
  API,
  type BallotInput,
  type BallotReceipt,
  type BoothQueue,
  type BoothState,
  type SkipReason,
} from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

const queries = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getBooth: build.query<BoothState, string>({
      query: (panelToken) => toRequest(API.getBooth, { params: { panelToken } }),
      responseSchema: responseOf(API.getBooth),
      providesTags: ["Booth"],
    }),
    getBouts: build.query<BoothQueue, string>({
      query: (panelToken) => toRequest(API.getBouts, { params: { panelToken } }),
      responseSchema: responseOf(API.getBouts),
    }),
  }),
});

interface Lifecycle {
  dispatch: (action: ReturnType<typeof queries.util.upsertQueryData<"getBouts">>) => unknown;
  queryFulfilled: PromiseLike<{ data: BallotReceipt }>;
}

/** What a receipt says comes next is on screen at once: nobody waits for a second answer. */
async function showNext(panelToken: string, { dispatch, queryFulfilled }: Lifecycle): Promise<void> {
  try {
    const { data } = await queryFulfilled;
    dispatch(queries.util.upsertQueryData("getBouts", panelToken, data.queue));
  } catch {
    // The booth shows the mutation's own error.
  }
}

interface BoutOfPanel {
  panelToken: string;
  boutToken: string;
}

const mutations = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    joinPanel: build.mutation<BoothState, { panelToken: string; name: string }>({
      query: ({ panelToken, name }) => toRequest(API.joinPanel, { params: { panelToken }, body: { name } }),
      invalidatesTags: ["Booth"],
    }),
    resumeVoting: build.mutation<BoothState, { panelToken: string; voterToken: string }>({
      query: ({ panelToken, voterToken }) =>
        toRequest(API.resumeVoting, { params: { panelToken }, body: { voterToken } }),
      invalidatesTags: ["Booth"],
    }),
    castBallot: build.mutation<BallotReceipt, BoutOfPanel & { ballot: z.input<typeof BallotInput> }>({
      query: ({ boutToken, ballot }) => toRequest(API.castBallot, { params: { boutToken }, body: ballot }),
      onQueryStarted: ({ panelToken }, lifecycle) => showNext(panelToken, lifecycle),
    }),
    skipBout: build.mutation<BallotReceipt, BoutOfPanel & { reason: SkipReason }>({
      query: ({ boutToken, reason }) => toRequest(API.skipBout, { params: { boutToken }, body: { reason } }),
      onQueryStarted: ({ panelToken }, lifecycle) => showNext(panelToken, lifecycle),
    }),
    takeBackBallot: build.mutation<BallotReceipt, string>({
      query: (panelToken) => toRequest(API.takeBackBallot, { params: { panelToken } }),
      onQueryStarted: (panelToken, lifecycle) => showNext(panelToken, lifecycle),
    }),
  }),
});

export const { useGetBoothQuery, useGetBoutsQuery } = queries;
export const {
  useJoinPanelMutation,
  useResumeVotingMutation,
  useCastBallotMutation,
  useSkipBoutMutation,
  useTakeBackBallotMutation,
} = mutations;
