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
  /** Takes back the ballot that was cast last: one that is on its way, once it is stored. */
  takeBack: () => void;
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
  const [takeBack, takingBack] = useTakeBackBallotMutation();
  const [unsent, setUnsent] = useState<Unsent | null>(null);
  /** The ballot that was confirmed while the one before it was still on its way. */
  const next = useRef<Omit<Unsent, "failures"> | null>(null);
  /** Whether the ballot on its way is to be taken back: the next bout is on screen before it is stored. */
  const isUnwanted = useRef(false);

  const attempt = async ({ boutToken, ballot, failures }: Unsent): Promise<void> => {
    setUnsent({ boutToken, ballot, failures });
    const { error: failure } = await send({ panelToken, boutToken, ballot });
    if (isAway(failure)) {
      // The voter is told that it waits, and can go on meanwhile.
      isUnwanted.current = false;
      setUnsent({ boutToken, ballot, failures: failures + 1 });
      return;
    }
    const following = next.current;
    next.current = null;
    // After a refusal another bout may be on screen than the one that was judged, and nothing to take back.
    if (following !== null && !failure) {
      await attempt({ ...following, failures: 0 });
      return;
    }
    if (isUnwanted.current && !failure) await takeBack(panelToken);
    isUnwanted.current = false;
    setUnsent(null);
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
      if (isUnwanted.current) return;
      takingBack.reset();
      if (unsent === null) void attempt({ boutToken, ballot, failures: 0 });
      else if (unsent.boutToken !== boutToken) next.current = { boutToken, ballot };
    },
    takeBack: () => {
      if (unsent === null) void takeBack(panelToken);
      // One that waits for the one before it was never sent.
      else if (next.current !== null) next.current = null;
      else isUnwanted.current = true;
    },
    isTakingBack: takingBack.isLoading,
    isBusy: unsent !== null,
    isWaiting: unsent !== null && unsent.failures > 0,
    error: isAway(error) ? undefined : error,
    takeBackError: takingBack.error,
    sendNow: () => {
      if (isWaiting) void attempt(unsent);
    },
  };
}
