import { API, type PromptRatings, type Standings, type WhatCounts } from "@tourney/core/contract";
import { readCounts, writeCounts } from "@tourney/core/what-counts";
import { type Remote, wrap } from "comlink";
import { useEffect, useRef, useState } from "react";
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

const toError = (failure: LoadFailure): ApiError => ({
  code: "OFFLINE",
  detail: "The ballots could not be fetched.",
  remedy: "Check that Tourney runs (`./tourney status`), then reload the page.",
  requestId: null,
  ...failure,
  issues: [],
});

/** A worker that counts. */
class CountingWorker {
  private readonly worker = new Worker(new URL("./counting.worker.ts", import.meta.url), { type: "module" });
  readonly counter: Remote<Counter> = wrap<Counter>(this.worker);

  end(): void {
    this.worker.terminate();
  }
}

/** Ballots as they were fetched for the how many-th time. */
type Loaded = { times: number; choices: Choices | undefined; error: ApiError | undefined };
/** What was counted, by which choice, written as in an address. */
interface Result {
  written: string;
  times: number;
  standings: Standings;
  ratings: PromptRatings | undefined;
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
  const held = useRef<CountingWorker>(undefined);
  /** The pages that were fetched last: others are fetched at once. */
  const fetched = useRef<WhatCounts["pages"]>(undefined);
  const { pages } = counts;
  const [loaded, setLoaded] = useState<Loaded>({ times: 0, choices: undefined, error: undefined });
  const [result, setResult] = useState<Result>();
  // Equal choices are one, however often the address is read.
  const written = new URLSearchParams(writeCounts(counts)).toString();
  const { times } = loaded;

  useEffect(() => {
    if (!isWanted) return;
    return () => {
      held.current?.end();
      held.current = undefined;
    };
  }, [isWanted]);

  useEffect(() => {
    if (!isWanted) return;
    const isFirst = held.current === undefined || fetched.current !== pages;
    fetched.current = pages;
    const { counter } = (held.current ??= new CountingWorker());
    const { url } = toRequest(API.getStandingsBasis, { params: { editionId } });
    const task = { isOver: false };
    const load = async () => {
      const found = await counter.load(`/${url}`, pages);
      if (task.isOver) return;
      setLoaded((now) =>
        "choices" in found
          ? { times: now.times + 1, choices: found.choices, error: undefined }
          : { ...now, error: toError(found.failure) },
      );
    };
    const timer = setTimeout(() => void load(), isFirst ? 0 : LOADED_AGAIN_MS);
    return () => {
      task.isOver = true;
      clearTimeout(timer);
    };
  }, [isWanted, editionId, moved, pages]);

  useEffect(() => {
    const counter = held.current?.counter;
    if (counter === undefined || times === 0) return;
    const task = { isOver: false };
    const count = async () => {
      const standings = await counter.count(readCounts(new URLSearchParams(written)));
      if (task.isOver || standings === null) return;
      setResult({ written, times, standings, ratings: undefined });
      const ratings = await counter.rateByPrompt();
      // Else another choice has been made, and nobody waits for these.
      if (ratings !== null) setResult({ written, times, standings, ratings });
    };
    void count();
    return () => {
      task.isOver = true;
    };
  }, [times, written]);

  return {
    choices: loaded.choices,
    standings: result?.standings,
    ratings: result?.ratings,
    isCounting: loaded.error === undefined && (result?.written !== written || result.times !== times),
    error: loaded.error,
  };
}
