import { API, type Edition, type EditionSummary } from "@tourney/core/contract";
import { useEffect, useRef } from "react";
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

/**
 * The edition that the address names, or the newest: null when there is none, undefined while it is not known. An edition that was frozen
 * a moment ago is not in the list that was read before: while the list is read again, an unknown one is not known yet.
 */
export function useEdition(): {
  edition: EditionSummary | null | undefined;
  editions: EditionSummary[];
  error: unknown;
} {
  const [search] = useSearchParams();
  const { data, error, isFetching } = useListEditionsQuery();
  const chosen = search.get("edition");
  const named = data?.find(({ id }) => id === chosen);
  const isOpen = data === undefined || (chosen !== null && isFetching);
  return { edition: named ?? (isOpen ? undefined : (data[0] ?? null)), editions: data ?? [], error };
}

/**
 * Puts the edition into an address that names none, or one that is gone: a link then goes on showing what it showed. An
 * edition counts as gone when a list that was asked for after it was named does not have it.
 */
export function useAddressedEdition(): void {
  const { data, isFetching, refetch } = useListEditionsQuery();
  const [search, setSearch] = useSearchParams();
  const lookedFor = useRef<string | null>(null);
  const chosen = search.get("edition");
  const newest = data?.[0]?.id;
  const isNamed = newest === undefined || data?.some(({ id }) => id === chosen);
  useEffect(() => {
    if (isNamed || isFetching) return;
    if (chosen !== null && lookedFor.current !== chosen) {
      lookedFor.current = chosen;
      void refetch();
      return;
    }
    const name = (now: URLSearchParams) => {
      const next = new URLSearchParams(now);
      next.set("edition", newest);
      return next;
    };
    setSearch(name, { replace: true });
  }, [chosen, newest, isNamed, isFetching, refetch, setSearch]);
}
