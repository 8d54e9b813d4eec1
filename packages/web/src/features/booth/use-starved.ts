import { useEffect, useRef } from "react";

/** Looked at this often … */
const EVERY_MS = 500;
/** … and held up when that comes so much too late … */
const LATE_MS = 1500;
/** … so many times in a row: a machine that slept, or a moment of work, is late once. */
const TIMES = 3;

/**
 * Tells when the booth itself is held up: a stage that sends messages without end, say, costs more than can be borne. Its keys still work, since they come
 * before everything else, but nothing that comes by a clock or from the server does.
 */
export function useStarved(isOn: boolean, onStarved: () => void): void {
  const latest = useRef(onStarved);
  useEffect(() => {
    latest.current = onStarved;
  });
  useEffect(() => {
    if (!isOn) return;
    let lastAt = performance.now();
    let late = 0;
    const timer = setInterval(() => {
      const now = performance.now();
      // Out of sight clocks are slow by design.
      late = now - lastAt - EVERY_MS > LATE_MS && !document.hidden ? late + 1 : 0;
      lastAt = now;
      if (late === TIMES) latest.current();
    }, EVERY_MS);
    return () => clearInterval(timer);
  }, [isOn]);
}
