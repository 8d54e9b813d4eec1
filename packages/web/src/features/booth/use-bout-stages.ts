import { useEffect, useState } from "react";
import type { HeldStage } from "../../ui/Stage.js";
import { useStarved } from "./use-starved.js";

export type Side = "left" | "right";

/** A stage that has not begun by then is not waited for. */
const PATIENCE_MS = 10_000;

/** What the stages of a bout show: the pages live, or their recordings; `nothing` when even those do not begin. */
export type Showing = "live" | "recordings" | "nothing";

type Both = Record<Side, boolean>;
const NEITHER: Both = { left: false, right: false };

/**
 * Lets both stages of a bout begin at the same moment, and keeps the curtain down until both are there. When one is not there in time,
 * both sides show recordings: which of the two it was does not show.
 */
export function useBoutStages(isCurrent: boolean) {
  const [showing, setShowing] = useState<Showing>("live");
  const [isForced, setIsForced] = useState(false);
  const [restart, setRestart] = useState(0);
  const [ready, setReady] = useState(NEITHER);
  const [there, setThere] = useState(NEITHER);
  const [gone, setGone] = useState(NEITHER);
  const [isLoud, setIsLoud] = useState(false);
  const hasBegun = isCurrent && ready.left && ready.right;
  const isCurtained = !(there.left && there.right);

  const startOver = (next: Showing = showing) => {
    setShowing(next);
    setRestart((now) => now + 1);
    for (const set of [setReady, setThere, setGone]) set(NEITHER);
  };
  const giveUp = () => {
    setIsForced(true);
    startOver(showing === "live" ? "recordings" : "nothing");
  };
  const isWaiting = isCurrent && isCurtained && showing !== "nothing";
  useEffect(() => {
    if (!isWaiting) return;
    const timer = setTimeout(giveUp, PATIENCE_MS);
    return () => clearTimeout(timer);
    // Patience begins anew with each start, not with each word from a stage.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isWaiting, restart]);

  // A page that holds up the booth itself is not shown live any longer, nor is the other: which of the two it was does not show.
  useStarved(isCurrent && !isCurtained && showing === "live", giveUp);

  return {
    showing,
    /** Whether recordings are shown because a page did not begin, or held up the booth. */
    isForced,
    restart,
    isLoud,
    isCurtained,
    gone,
    heldOf: (side: Side): HeldStage => ({
      hasBegun,
      isLoud,
      onReady: () => setReady((now) => ({ ...now, [side]: true })),
      onBegun: () => setThere((now) => ({ ...now, [side]: true })),
      onAway: (isAway) => setGone((now) => ({ ...now, [side]: isAway })),
    }),
    startOver: () => startOver(),
    toggleRecordings: () => {
      setIsForced(false);
      startOver(showing === "live" ? "recordings" : "live");
    },
    toggleSound: () => setIsLoud((now) => !now),
  };
}
