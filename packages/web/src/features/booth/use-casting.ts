import type { BallotInput } from "@tourney/core/contract";
import { useEffect, useState } from "react";
import { isAway, useCastBallotMutation } from "./booth-api.js";

/** After each time in vain a ballot is sent again this much later; the last of them from then on. */
const AGAIN_MS = [1000, 2000, 5000, 10_000];

interface Unsent {
  boutToken: string;
  ballot: BallotInput;
  /** How often it was sent in vain. */
  failures: number;
}

export interface Casting {
  cast: (boutToken: string, ballot: BallotInput) => void;
  /** Whether a ballot is on its way: the next has to wait. */
  isBusy: boolean;
  /** Whether the server is away, so that the ballot waits here. */
  isWaiting: boolean;
  /** Why a ballot was refused, which sending it again would not mend. */
  error: unknown;
  sendNow: () => void;
}

/**
 * Sends ballots. The next bout is on screen at once and the ballot is stored meanwhile; while the server is away it is sent again until it is
 * stored, which is safe: a ballot counts once however often it comes.
 */
export function useCasting(panelToken: string): Casting {
  const [send, { isLoading, error }] = useCastBallotMutation();
  const [unsent, setUnsent] = useState<Unsent | null>(null);

  const attempt = async ({ boutToken, ballot, failures }: Unsent) => {
    setUnsent({ boutToken, ballot, failures });
    const result = await send({ panelToken, boutToken, ballot });
    setUnsent(isAway(result.error) ? { boutToken, ballot, failures: failures + 1 } : null);
  };
  const isWaiting = unsent !== null && unsent.failures > 0 && !isLoading;
  useEffect(() => {
    if (!isWaiting) return;
    const delay = AGAIN_MS[Math.min(unsent.failures, AGAIN_MS.length) - 1];
    const timer = setTimeout(() => void attempt(unsent), delay);
    return () => clearTimeout(timer);
    // One timer for each time in vain.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isWaiting, unsent?.failures]);

  return {
    cast: (boutToken, ballot) => {
      if (unsent === null) void attempt({ boutToken, ballot, failures: 0 });
    },
    isBusy: unsent !== null,
    isWaiting: unsent !== null && unsent.failures > 0,
    error: isAway(error) ? undefined : error,
    sendNow: () => {
      if (isWaiting) void attempt(unsent);
    },
  };
}
