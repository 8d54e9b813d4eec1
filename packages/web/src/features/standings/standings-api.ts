import {
  API,
  type ContestResults,
  type Mending,
  type RatingsBySeeing,
  type RatingsOverTime,
  type ReportLink,
  Standings,
  type StandingsView,
  type WhatCounts,
} from "@tourney/core/contract";
import { writeCounts } from "@tourney/core/what-counts";
import { pageLine } from "../../api/page-line.js";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

interface Counting {
  editionId: string;
  counts: WhatCounts;
}

/** What counts is said in the words of the screen's own address. */
function withCounts(operation: typeof API.getMending | typeof API.getRatingsOverTime, { editionId, counts }: Counting) {
  const { url } = toRequest(operation, { params: { editionId } });
  const query = new URLSearchParams(writeCounts(counts)).toString();
  return { url: query === "" ? url : `${url}?${query}` };
}

export const {
  useGetStandingsQuery,
  useGetContestsQuery,
  useGetMendingQuery,
  useGetRatingsBySeeingQuery,
  useGetRatingsOverTimeQuery,
  useListViewsQuery,
  useKeepViewMutation,
  useRemoveViewMutation,
  useListReportLinksQuery,
  useAddReportLinkMutation,
  useSetReportLinkMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    /** All ballots, as they were voted. */
    getStandings: build.query<Standings, string>({
      query: (editionId) => toRequest(API.getStandings, { params: { editionId } }),
      responseSchema: responseOf(API.getStandings),
      providesTags: ["Standings"],
      /** The server pushes the standings whenever ballots move them. */
      async onCacheEntryAdded(editionId, entry) {
        await entry.cacheDataLoaded.catch(() => undefined);
        const close = pageLine.watch("standings", editionId, (data) => {
          const standings = Standings.safeParse(data);
          if (standings.success) entry.updateCachedData(() => standings.data);
        });
        await entry.cacheEntryRemoved;
        close();
      },
    }),
    getMending: build.query<Mending[], Counting>({
      query: (counting) => withCounts(API.getMending, counting),
      responseSchema: responseOf(API.getMending),
      providesTags: ["Standings", "Wall"],
    }),
    getRatingsBySeeing: build.query<RatingsBySeeing, string>({
      query: (editionId) => toRequest(API.getRatingsBySeeing, { params: { editionId } }),
      responseSchema: responseOf(API.getRatingsBySeeing),
      providesTags: ["Standings"],
    }),
    getRatingsOverTime: build.query<RatingsOverTime, Counting>({
      query: (counting) => withCounts(API.getRatingsOverTime, counting),
      responseSchema: responseOf(API.getRatingsOverTime),
      providesTags: ["Standings"],
    }),
    getContests: build.query<ContestResults, string>({
      query: (editionId) => toRequest(API.getContests, { params: { editionId } }),
      responseSchema: responseOf(API.getContests),
      providesTags: ["Standings"],
    }),
    listViews: build.query<StandingsView[], string>({
      query: (editionId) => toRequest(API.listViews, { params: { editionId } }),
      responseSchema: responseOf(API.listViews),
      providesTags: ["View"],
    }),
    keepView: build.mutation<StandingsView, { editionId: string; name: string; counts: WhatCounts }>({
      query: ({ editionId, ...body }) => toRequest(API.keepView, { params: { editionId }, body }),
      responseSchema: responseOf(API.keepView),
      invalidatesTags: ["View"],
    }),
    removeView: build.mutation<{ removed: boolean }, string>({
      query: (viewId) => toRequest(API.removeView, { params: { viewId } }),
      responseSchema: responseOf(API.removeView),
      invalidatesTags: ["View"],
    }),
    listReportLinks: build.query<ReportLink[], string>({
      query: (editionId) => toRequest(API.listReportLinks, { params: { editionId } }),
      responseSchema: responseOf(API.listReportLinks),
      providesTags: ["ReportLink"],
    }),
    addReportLink: build.mutation<ReportLink, { editionId: string; counts: WhatCounts }>({
      query: ({ editionId, counts }) => toRequest(API.addReportLink, { params: { editionId }, body: { counts } }),
      responseSchema: responseOf(API.addReportLink),
      invalidatesTags: ["ReportLink"],
    }),
    setReportLink: build.mutation<ReportLink, { linkId: string; withdrawn: boolean }>({
      query: ({ linkId, withdrawn }) => toRequest(API.setReportLink, { params: { linkId }, body: { withdrawn } }),
      responseSchema: responseOf(API.setReportLink),
      invalidatesTags: ["ReportLink"],
    }),
  }),
});
