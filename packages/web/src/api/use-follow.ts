import { useEffect, useRef, useSyncExternalStore } from "react";
import { type About, pageLine } from "./page-line.js";

/** Whether the line is cut: what is shown may be old. */
export const useIsCut = (): boolean => useSyncExternalStore(pageLine.subscribeToCut, () => pageLine.isCut);

interface Following {
  about: readonly About[];
  /** At most so often, however much changes. */
  everyMs: number;
  /** Also while nobody looks at the page; otherwise it is done when somebody does again. */
  alsoUnseen?: boolean;
}

/** Asks again for what is shown whenever it may have changed. */
export function useFollow(refetch: () => unknown, { about, everyMs, alsoUnseen = false }: Following): void {
  const ask = useRef(refetch);
  useEffect(() => {
    ask.current = refetch;
  });
  const wanted = about.join(" ");
  useEffect(() => {
    const follower = new Follower(() => ask.current(), { everyMs, alsoUnseen });
    const stop = pageLine.follow((moved) => {
      if (moved.some((one) => wanted.includes(one))) follower.move();
    });
    return () => {
      stop();
      follower.close();
    };
  }, [wanted, everyMs, alsoUnseen]);
}

/** Asks at once for what has not been asked for lately, and for the rest when its time has come. */
export class Follower {
  private lastAt = -Infinity;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private isMissed = false;

  constructor(
    private readonly ask: () => unknown,
    private readonly options: { everyMs: number; alsoUnseen: boolean },
  ) {
    document.addEventListener("visibilitychange", this.onSeen);
  }

  move(): void {
    if (document.hidden && !this.options.alsoUnseen) {
      this.isMissed = true;
      return;
    }
    this.timer ??= setTimeout(
      () => {
        this.timer = null;
        this.lastAt = performance.now();
        this.ask();
      },
      Math.max(0, this.lastAt + this.options.everyMs - performance.now()),
    );
  }

  close(): void {
    document.removeEventListener("visibilitychange", this.onSeen);
    if (this.timer !== null) clearTimeout(this.timer);
  }

  private readonly onSeen = () => {
    if (document.hidden || !this.isMissed) return;
    this.isMissed = false;
    this.move();
  };
}
