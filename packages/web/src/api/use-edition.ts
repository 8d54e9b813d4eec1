import { API, type Edition, type EditionSummary } from "@tourney/core/contract";
import { useSearchParams } from "react-router";
import { responseOf, toRequest, tourneyApi } from "./tourney-api.js";

const { useListEditionsQuery, useGetEditionQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    listEditions: build.query<EditionSummary[], void>({
      query: () => toRequest(API.listEditions),
      responseSchema: responseOf(API.listEditions),
      providesTags: ["Edition"],
    }),
    getEdition: build.query<Edition, string>({
      query: (editionId) => toRequest(API.getEdition, { params: { editionId } }),
      responseSchema: responseOf(API.getEdition),
      providesTags: (_result, _error, id) => [{ type: "Edition", id }],
    }),
  }),
});

export { useGetEditionQuery };

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
