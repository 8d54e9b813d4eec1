import { useEffect, useRef, useSyncExternalStore } from "react";
import { type About, pageLine } from "./page-line.js";

/** Whether the line is cut: what is shown may be old. */
export const useIsCut = (): boolean => useSyncExternalStore(pageLine.subscribeToCut, () => pageLine.isCut);

interface Following {
  about: readonly About[];
  /** At most so often, however much changes. */
  everyMs: number;
}

/** Asks again for what is shown whenever it may have changed; what changes while nobody looks at the page, when somebody does again. */
export function useFollow(refetch: () => unknown, { about, everyMs }: Following): void {
  const ask = useRef(refetch);
  useEffect(() => {
    ask.current = refetch;
  });
  const wanted = about.join(" ");
  useEffect(() => {
    let lastAt = -Infinity;
    let timer: ReturnType<typeof setTimeout> | null = null;
    // At once for what has not been asked for lately, and for the rest when its time has come.
    const move = () => {
      timer ??= setTimeout(
        () => {
          timer = null;
          lastAt = performance.now();
          ask.current();
        },
        Math.max(0, lastAt + everyMs - performance.now()),
      );
    };
    const stop = pageLine.follow((moved) => {
      if (moved.some((one) => wanted.includes(one))) move();
    });
    return () => {
      stop();
      if (timer !== null) clearTimeout(timer);
    };
  }, [wanted, everyMs]);
}
