import { useCallback, useLayoutEffect, useRef } from "react";

/** A handler that stays the same while what it does changes, so that a part that gets it is not drawn anew for its sake. */
export function useSteady<Args extends unknown[]>(handler: (...args: Args) => void): (...args: Args) => void {
  const latest = useRef(handler);
  useLayoutEffect(() => {
    latest.current = handler;
  });
  return useCallback((...args: Args) => latest.current(...args), []);
}
