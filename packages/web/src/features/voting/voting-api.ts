import {
  API,
  type AuditLine,
  type BallotFilter,
  type BallotLine,
  type BallotList,
  type BallotScope,
  type Panel,
  type PanelChange,
  type PanelInput,
  type VotingReport,
} from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export interface BallotsWanted extends BallotScope {
  editionId: string;
  only: BallotFilter;
  /** From an earlier answer: asks for older ones. */
  before: string | undefined;
}

export const {
  useAddPanelMutation,
  useChangePanelMutation,
  useSetInvitationMutation,
  useInviteVotersMutation,
  useRevokeVoterMutation,
  useLeaveVoterOutMutation,
  useTakeVoterInMutation,
  useGetVotingReportQuery,
  useListAuditQuery,
  useListBallotsQuery,
  useVoidBallotMutation,
  useRestoreBallotMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    addPanel: build.mutation<Panel, z.input<typeof PanelInput>>({
      query: (body) => toRequest(API.addPanel, { body }),
      invalidatesTags: ["Panel", "Course"],
    }),
    changePanel: build.mutation<Panel, { panelId: string; change: z.input<typeof PanelChange> }>({
      query: ({ panelId, change }) => toRequest(API.changePanel, { params: { panelId }, body: change }),
      invalidatesTags: ["Panel"],
    }),
    setInvitation: build.mutation<Panel, { panelId: string; open: boolean }>({
      query: ({ panelId, open }) => toRequest(API.setInvitation, { params: { panelId }, body: { open } }),
      invalidatesTags: ["Panel"],
    }),
    inviteVoters: build.mutation<Panel, { panelId: string; names: string[] }>({
      query: ({ panelId, names }) => toRequest(API.inviteVoters, { params: { panelId }, body: { names } }),
      invalidatesTags: ["Panel"],
    }),
    revokeVoter: build.mutation<Panel, { voterId: string; revoked: boolean }>({
      query: ({ voterId, revoked }) => toRequest(API.revokeVoter, { params: { voterId }, body: { revoked } }),
      invalidatesTags: ["Panel"],
    }),
    leaveVoterOut: build.mutation<Panel, { voterId: string; why: string }>({
      query: ({ voterId, why }) => toRequest(API.leaveVoterOut, { params: { voterId }, body: { why } }),
      invalidatesTags: ["Panel", "Standings", "Course"],
    }),
    takeVoterIn: build.mutation<Panel, string>({
      query: (voterId) => toRequest(API.takeVoterIn, { params: { voterId } }),
      invalidatesTags: ["Panel", "Standings", "Course"],
    }),
    getVotingReport: build.query<VotingReport, string>({
      query: (editionId) => toRequest(API.getVotingReport, { params: { editionId } }),
      responseSchema: responseOf(API.getVotingReport),
      providesTags: ["Panel"],
    }),
    listBallots: build.query<BallotList, BallotsWanted>({
      query: ({ editionId, ...query }) => toRequest(API.listBallots, { params: { editionId }, query: { ...query } }),
      responseSchema: responseOf(API.listBallots),
      providesTags: ["Panel"],
    }),
    voidBallot: build.mutation<BallotLine, { ballotId: string; why: string }>({
      query: ({ ballotId, why }) => toRequest(API.voidBallot, { params: { ballotId }, body: { why } }),
      invalidatesTags: ["Panel", "Standings", "Course"],
    }),
    restoreBallot: build.mutation<BallotLine, string>({
      query: (ballotId) => toRequest(API.restoreBallot, { params: { ballotId } }),
      invalidatesTags: ["Panel", "Standings", "Course"],
    }),
    listAudit: build.query<AuditLine[], string>({
      query: (editionId) => toRequest(API.listAudit, { params: { editionId } }),
      responseSchema: responseOf(API.listAudit),
      providesTags: ["Panel"],
    }),
  }),
});
