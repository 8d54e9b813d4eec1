import { useEffect, useRef } from "react";

/** Looked at this often … */
const EVERY_MS = 500;
/** … and held up when that comes so much too late … */
const LATE_MS = 1500;
/** … so many times in a row: a machine that slept, or a moment of work, is late once. */
const TIMES = 2;
/** Inputs come before everything else: a clock that stands still from one to another, so far apart, will not go on by itself. */
const APART_MS = 700;

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
    /** When an input first came while the clock stood still. */
    let stillSince: number | null = null;
    // Out of sight clocks are slow by design.
    const isLate = (now: number) => now - lastAt - EVERY_MS > LATE_MS && !document.hidden;
    const onTick = () => {
      const now = performance.now();
      late = isLate(now) ? late + 1 : 0;
      lastAt = now;
      stillSince = null;
      if (late === TIMES) latest.current();
    };
    const onInput = () => {
      const now = performance.now();
      stillSince = isLate(now) ? (stillSince ?? now) : null;
      if (stillSince === null || now - stillSince < APART_MS) return;
      stillSince = null;
      latest.current();
    };
    const INPUTS = ["keydown", "pointerdown", "pointermove"] as const;
    const timer = setInterval(onTick, EVERY_MS);
    for (const type of INPUTS) window.addEventListener(type, onInput, true);
    return () => {
      clearInterval(timer);
      for (const type of INPUTS) window.removeEventListener(type, onInput, true);
    };
  }, [isOn]);
}
