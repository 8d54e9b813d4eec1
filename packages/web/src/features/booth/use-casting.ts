import type { BallotInput } from "@tourney/core/contract";
import { useEffect, useRef, useState } from "react";
import { isAway, useCastBallotMutation, useTakeBackBallotMutation } from "./booth-api.js";

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
  /** Takes back the ballot that was confirmed last: one that is on its way, once it is stored. */
  takeBack: () => void;
  /** Whether that is under way, or waits for the ballot. */
  isTakingBack: boolean;
  /** Whether a ballot is on its way: one more is kept until it is through, all else but taking it back has to wait. */
  isBusy: boolean;
  /** Whether the server is away, so that the ballot waits here. */
  isWaiting: boolean;
  /** Why a ballot was refused, which sending it again would not mend. */
  error: unknown;
  /** Why one could not be taken back. */
  takeBackError: unknown;
  sendNow: () => void;
}

/**
 * Sends ballots. The next bout is on screen at once and the ballot is stored meanwhile; while the server is away it is sent again until it is
 * stored, which is safe: a ballot counts once however often it comes.
 */
export function useCasting(panelToken: string): Casting {
  const [send, { isLoading, error }] = useCastBallotMutation();
  const [takeBack, { error: takeBackError, reset: forgetTakeBack }] = useTakeBackBallotMutation();
  const [isTakingBack, setIsTakingBack] = useState(false);
  const [unsent, setUnsent] = useState<Unsent | null>(null);
  /** The ballot that was confirmed while the one before it was still on its way. */
  const next = useRef<Omit<Unsent, "failures"> | null>(null);
  /** Whether the ballot that is on its way is stored, once that is known. */
  const storing = useRef(Promise.resolve(true));

  const attempt = async ({ boutToken, ballot, failures }: Unsent): Promise<boolean> => {
    setUnsent({ boutToken, ballot, failures });
    const { error: failure } = await send({ panelToken, boutToken, ballot });
    if (isAway(failure)) {
      setUnsent({ boutToken, ballot, failures: failures + 1 });
      return false;
    }
    const following = next.current;
    next.current = null;
    // After a refusal another bout may be on screen than the one that was judged.
    if (following !== null && !failure) return attempt({ ...following, failures: 0 });
    setUnsent(null);
    return !failure;
  };
  const takeBackLast = async (): Promise<void> => {
    // One that waits for the one before it was never sent.
    if (next.current !== null) {
      next.current = null;
      return;
    }
    setIsTakingBack(true);
    // The next bout is on screen before the ballot on the last one is stored.
    if (unsent === null || (await storing.current)) await takeBack(panelToken);
    setIsTakingBack(false);
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
      forgetTakeBack();
      if (unsent === null) storing.current = attempt({ boutToken, ballot, failures: 0 });
      else if (unsent.boutToken !== boutToken) next.current = { boutToken, ballot };
    },
    takeBack: () => void takeBackLast(),
    isTakingBack,
    isBusy: unsent !== null,
    isWaiting: unsent !== null && unsent.failures > 0,
    error: isAway(error) ? undefined : error,
    takeBackError,
    sendNow: () => {
      if (isWaiting) void attempt(unsent);
    },
  };
}
