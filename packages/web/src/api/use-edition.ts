import { API, type EditionSummary } from "@tourney/core/contract";
import { useSearchParams } from "react-router";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

const { useListEditionsQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    listEditions: build.query<EditionSummary[], void>({
      query: () => toRequest(API.listEditions),
      responseSchema: responseOf(API.listEditions),
      providesTags: ["Edition"],
    }),
  }),
});

/** The edition that the address names, or the newest: null when there is none, undefined while it is not known. */
export function useEdition(): {
  edition: EditionSummary | null | undefined;
  editions: EditionSummary[];
  error: unknown;
} {
  const [search] = useSearchParams();
  const { data, error } = useListEditionsQuery();
  const chosen = search.get("edition");
  const edition = data === undefined ? undefined : (data.find(({ id }) => id === chosen) ?? data[0] ?? null);
  return { edition, editions: data ?? [], error };
}
