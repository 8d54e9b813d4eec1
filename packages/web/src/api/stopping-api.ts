import { API, type StoppingPlan, type StoppingPlanInput, type StoppingState } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

/** The plan by which voting ends. It is watched apart from where it is shown, as runs and panels are. */
export const { useGetStoppingQuery, useWatchStoppingQuery, useSetStoppingMutation, useGiveUpStoppingMutation } =
  tourneyApi.injectEndpoints({
    endpoints: (build) => ({
      getStopping: build.query<StoppingState, string>({
        query: (editionId) => toRequest(API.getStopping, { params: { editionId } }),
        responseSchema: responseOf(API.getStopping),
        providesTags: ["Stopping"],
      }),
      watchStopping: build.query<StoppingState, string>({
        query: (editionId) => toRequest(API.getStopping, { params: { editionId } }),
        responseSchema: responseOf(API.getStopping),
        providesTags: ["Stopping"],
      }),
      setStopping: build.mutation<StoppingState, { editionId: string; plan: StoppingPlanInput }>({
        query: ({ editionId, plan }) => toRequest(API.setStopping, { params: { editionId }, body: plan }),
        responseSchema: responseOf(API.setStopping),
        invalidatesTags: ["Stopping"],
      }),
      giveUpStopping: build.mutation<StoppingPlan, { planId: string; givenUp: boolean }>({
        query: ({ planId, givenUp }) => toRequest(API.giveUpStopping, { params: { planId }, body: { givenUp } }),
        responseSchema: responseOf(API.giveUpStopping),
        invalidatesTags: ["Stopping"],
      }),
    }),
  });
