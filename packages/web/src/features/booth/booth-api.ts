import {
  API,
  type BallotInput,
  type BallotReceipt,
  type BoothQueue,
  type BoothState,
  type SkipReason,
} from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toApiError, toRequest, tourneyApi } from "../../api/tourney-api.js";

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
      providesTags: ["Bouts"],
    }),
  }),
});

/** Whether the server did not answer, or could not: the same request again may do. */
export const isAway = (error: unknown): boolean =>
  error !== undefined &&
  ["OFFLINE", "INTERNAL", "DATABASE_UNAVAILABLE", "RATE_LIMITED"].includes(toApiError(error).code);

/** What was refused may have been decided elsewhere, on another device: it is looked up again. */
const onRefusal = (_: unknown, error: unknown) => (error === undefined || isAway(error) ? [] : (["Bouts"] as const));

interface Lifecycle {
  dispatch: (
    action: ReturnType<
      typeof queries.util.upsertQueryData<"getBouts"> | typeof queries.util.updateQueryData<"getBouts">
    >,
  ) => unknown;
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

/** The bout that was answered makes way for the one that was loaded ahead, before the server has said so. */
const turnOver = (panelToken: string, boutToken: string) =>
  queries.util.updateQueryData("getBouts", panelToken, (queue) => {
    if (queue.bouts.length < 2 || queue.bouts[0]!.token !== boutToken) return;
    queue.bouts.shift();
    queue.done += 1;
    queue.canTakeBack = false;
  });

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
      // Also when the page is closed meanwhile.
      query: ({ boutToken, ballot }) => ({
        ...toRequest(API.castBallot, { params: { boutToken }, body: ballot }),
        keepalive: true,
      }),
      onQueryStarted: ({ panelToken, boutToken }, lifecycle) => {
        lifecycle.dispatch(turnOver(panelToken, boutToken));
        return showNext(panelToken, lifecycle);
      },
      invalidatesTags: onRefusal,
    }),
    skipBout: build.mutation<BallotReceipt, BoutOfPanel & { reason: SkipReason }>({
      query: ({ boutToken, reason }) => toRequest(API.skipBout, { params: { boutToken }, body: { reason } }),
      onQueryStarted: ({ panelToken }, lifecycle) => showNext(panelToken, lifecycle),
      invalidatesTags: onRefusal,
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
