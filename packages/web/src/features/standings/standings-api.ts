import { API, type Kind, Standings } from "@tourney/core/contract";
import { listenTo } from "../../api/listen-to.js";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export const { useGetStandingsQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getStandings: build.query<Standings, { editionId: string; kind: Kind | undefined }>({
      query: ({ editionId, kind }) => toRequest(API.getStandings, { params: { editionId }, query: { kind } }),
      responseSchema: responseOf(API.getStandings),
      providesTags: ["Standings"],
      /** The server pushes the standings whenever ballots move them. */
      async onCacheEntryAdded({ editionId, kind }, entry) {
        await entry.cacheDataLoaded.catch(() => undefined);
        const query = kind === undefined ? "" : `?kind=${kind}`;
        const close = listenTo(`/api/editions/${editionId}/standings/events${query}`, "standings", (data) => {
          const standings = Standings.safeParse(data);
          if (standings.success) entry.updateCachedData(() => standings.data);
        });
        await entry.cacheEntryRemoved;
        close();
      },
    }),
  }),
});
