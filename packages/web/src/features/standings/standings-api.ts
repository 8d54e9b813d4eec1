import { API, type Kind, Standings } from "@tourney/core/contract";
import { listenTo } from "../../api/listen-to.js";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

interface StandingsArgument {
  editionId: string;
  kind: Kind | undefined;
  /** Absent: entrants as they are set up now. */
  versions: "all" | undefined;
}

export const { useGetStandingsQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getStandings: build.query<Standings, StandingsArgument>({
      query: ({ editionId, ...query }) => toRequest(API.getStandings, { params: { editionId }, query }),
      responseSchema: responseOf(API.getStandings),
      providesTags: ["Standings"],
      /** The server pushes the standings whenever ballots move them. */
      async onCacheEntryAdded({ editionId, kind, versions }, entry) {
        await entry.cacheDataLoaded.catch(() => undefined);
        const query = new URLSearchParams({ ...(kind === undefined ? {} : { kind }), versions: versions ?? "present" });
        const address = `/api/editions/${editionId}/standings/events?${query.toString()}`;
        const close = listenTo(address, "standings", (data) => {
          const standings = Standings.safeParse(data);
          if (standings.success) entry.updateCachedData(() => standings.data);
        });
        await entry.cacheEntryRemoved;
        close();
      },
    }),
  }),
});
