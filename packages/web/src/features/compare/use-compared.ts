import { MOST_COMPARED, type Compared } from "@tourney/core/compare";
import { skipToken } from "@reduxjs/toolkit/query";
import { useCallback } from "react";
import { useSearchParams } from "react-router";
import { useEditionInAddress } from "../../api/edition-links.js";
import { useGetEntryQuery, useListComparableQuery } from "../../api/entry-api.js";
import { useGetPromptRatingsQuery } from "../../api/ratings-api.js";
import { useGetJudgingQuery } from "../../api/sheet-api.js";
import { useFollow } from "../../api/use-follow.js";

/** The entries that the address names, two to six of them in order, and a way to change them. */
export function useChosen(): { ids: string[]; choose: (ids: readonly string[]) => void } {
  const [search, setSearch] = useSearchParams();
  const ids = [...new Set((search.get("entries") ?? "").split(",").filter((id) => id !== ""))].slice(0, MOST_COMPARED);
  const choose = useCallback(
    (next: readonly string[]) =>
      setSearch((now) => {
        const changed = new URLSearchParams(now);
        changed.set("entries", [...new Set(next)].slice(0, MOST_COMPARED).join(","));
        return changed;
      }),
    [setSearch],
  );
  return { ids, choose };
}

/** Everything known of the entries, and what else they could be put beside. */
export function useCompared(ids: readonly string[]) {
  const edition = useEditionInAddress() ?? undefined;
  const argument = (index: number) => {
    const entryId = ids[index];
    return entryId === undefined ? skipToken : { entryId, edition };
  };
  // As many calls each time, whatever the address names: hooks cannot be called in a loop of changing length.
  const queries = [
    useGetEntryQuery(argument(0)),
    useGetEntryQuery(argument(1)),
    useGetEntryQuery(argument(2)),
    useGetEntryQuery(argument(3)),
    useGetEntryQuery(argument(4)),
    useGetEntryQuery(argument(5)),
  ].slice(0, ids.length);
  const again = () => queries.forEach(({ refetch, isUninitialized }) => (isUninitialized ? null : void refetch()));
  useFollow(again, { about: ["cells"], everyMs: 2000 });
  const { data: comparable = [] } = useListComparableQuery(argument(0));
  const first = queries[0]?.currentData;
  const { data: judging } = useGetJudgingQuery(first === undefined ? skipToken : first.editionId);
  const { data: ratings } = useGetPromptRatingsQuery(first === undefined ? skipToken : first.editionId);
  const entries = queries.flatMap(({ currentData }) => currentData ?? []);
  const compared: Compared[] = entries.map((entry) => ({
    entry,
    comparable: comparable.find(({ entryId }) => entryId === entry.id) ?? null,
    // Voters are shown first shots; what was mended afterwards has no rating.
    rating:
      entry.mends + entry.corrections > 0 || entry.handMended !== null
        ? null
        : (ratings?.prompts
            .find(({ promptId }) => promptId === entry.prompt.id)
            ?.ratings.find(({ versionId }) => versionId === entry.version.id) ?? null),
    sheets: judging?.sheets.filter(({ entryId }) => entryId === entry.id) ?? [],
  }));
  return {
    compared,
    comparable,
    isLoading: queries.some(({ currentData, error }) => currentData === undefined && error === undefined),
    error: queries.find(({ error, currentData }) => error !== undefined && currentData === undefined)?.error,
    retry: again,
  };
}
