import { API, type PromptRatings, type Standings, type WhatCounts } from "@tourney/core/contract";
import { writeCounts } from "@tourney/core/what-counts";
import { type Remote, wrap } from "comlink";
import { useEffect, useMemo, useState } from "react";
import { type ApiError, toRequest } from "../../../api/tourney-api.js";
import type { Choices, Counter, LoadFailure } from "./counter.js";

/** Ballots that come in while one looks are fetched at most this often. */
const LOADED_AGAIN_MS = 4000;

export interface Counted {
  /** What can be chosen from; undefined until the ballots are there. */
  choices: Choices | undefined;
  /** By the choice; while another is being counted, by the one before. */
  standings: Standings | undefined;
  /** Of these standings; undefined while they are being computed. */
  ratings: PromptRatings | undefined;
  isCounting: boolean;
  error: ApiError | undefined;
}

const EMPTY: Counted = {
  choices: undefined,
  standings: undefined,
  ratings: undefined,
  isCounting: true,
  error: undefined,
};

const toError = (failure: LoadFailure): ApiError => ({
  code: "OFFLINE",
  detail: "The ballots could not be fetched.",
  remedy: "Check that Tourney runs (`./tourney status`), then reload the page.",
  requestId: null,
  ...failure,
  issues: [],
});

/** A worker that counts, as long as somebody looks at what it counted. */
function useCounter(isWanted: boolean): Remote<Counter> | undefined {
  const [counter, setCounter] = useState<{ remote: Remote<Counter> }>();
  useEffect(() => {
    if (!isWanted) return;
    const worker = new Worker(new URL("./counting.worker.ts", import.meta.url), { type: "module" });
    setCounter({ remote: wrap<Counter>(worker) });
    return () => {
      worker.terminate();
      setCounter(undefined);
    };
  }, [isWanted]);
  return counter?.remote;
}

/**
 * Counts an edition's ballots by a choice, in a worker.
 *
 * @param isWanted nothing is fetched until it is.
 * @param moved changes whenever ballots have come in: they are fetched again.
 */
export function useCounted(
  editionId: string,
  counts: WhatCounts,
  { isWanted, moved }: { isWanted: boolean; moved: string | undefined },
): Counted {
  const counter = useCounter(isWanted);
  const [counted, setCounted] = useState<Counted>(EMPTY);
  const [loads, setLoads] = useState(0);
  // Equal choices are one, however often the address is read.
  const written = JSON.stringify(writeCounts(counts));
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the text stands for the choice
  const chosen = useMemo(() => counts, [written]);

  useEffect(() => {
    if (counter === undefined) return;
    let isOver = false;
    const load = async () => {
      const { url } = toRequest(API.getStandingsBasis, { params: { editionId } });
      const loaded = await counter.load(`/${url}`);
      if (isOver) return;
      if ("choices" in loaded) {
        setCounted((now) => ({ ...now, choices: loaded.choices, error: undefined }));
        setLoads((n) => n + 1);
      } else setCounted((now) => ({ ...now, isCounting: false, error: toError(loaded.failure) }));
    };
    const timer = setTimeout(() => void load(), loads === 0 ? 0 : LOADED_AGAIN_MS);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- that they are there is no reason to fetch them again
  }, [counter, editionId, moved]);

  useEffect(() => {
    if (counter === undefined || loads === 0) return;
    let isOver = false;
    setCounted((now) => ({ ...now, isCounting: true }));
    void (async () => {
      const standings = await counter.count(chosen);
      if (isOver || standings === null) return;
      setCounted((now) => ({ ...now, standings, ratings: undefined, isCounting: false }));
      const ratings = await counter.rateByPrompt();
      if (!isOver && ratings !== null) setCounted((now) => ({ ...now, ratings }));
    })();
    return () => {
      isOver = true;
    };
  }, [counter, loads, chosen]);

  return counted;
}
