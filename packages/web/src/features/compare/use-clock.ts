import { listTimes, stepTime } from "@tourney/core/compare";
import type { Frame } from "@tourney/core/contract";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";

export interface Clock {
  atMs: number;
  endMs: number;
  isPlaying: boolean;
  /** Goes to a time and stays there. */
  seek: (atMs: number) => void;
  step: (by: 1 | -1) => void;
  toggle: () => void;
}

/** The address keeps the time once it has rested for this long. */
const REST_MS = 300;

/** One playhead for all recordings. The address names where it stands, so that a link shows the same frames. */
export function useClock(recordings: readonly (readonly Frame[])[], seconds: number): Clock {
  const [search, setSearch] = useSearchParams();
  const [atMs, setAtMs] = useState(() => Math.max(0, Number(search.get("at")) || 0));
  const [isPlaying, setIsPlaying] = useState(false);
  const endMs = seconds * 1000;
  const times = useMemo(() => listTimes(recordings), [recordings]);

  const seek = useCallback(
    (to: number) => {
      setIsPlaying(false);
      setAtMs(Math.min(endMs, Math.max(0, Math.round(to))));
    },
    [endMs],
  );
  usePlaying(isPlaying, { atMs, endMs, onTick: setAtMs, onEnd: () => setIsPlaying(false) });
  useEffect(() => {
    if (isPlaying || Number(search.get("at") ?? 0) === atMs) return;
    const timer = setTimeout(
      () =>
        setSearch(
          (now) => {
            const next = new URLSearchParams(now);
            next.set("at", String(atMs));
            return next;
          },
          { replace: true },
        ),
      REST_MS,
    );
    return () => clearTimeout(timer);
  }, [atMs, isPlaying, search, setSearch]);

  return {
    atMs,
    endMs,
    isPlaying,
    seek,
    step: (by) => seek(stepTime(times, atMs, by)),
    toggle: () => {
      if (!isPlaying && atMs >= endMs) setAtMs(0);
      setIsPlaying(!isPlaying);
    },
  };
}

interface Playing {
  atMs: number;
  endMs: number;
  onTick: (atMs: number) => void;
  onEnd: () => void;
}

/** Moves the time on as fast as it passes, until the end. */
function usePlaying(isPlaying: boolean, playing: Playing): void {
  const latest = useRef(playing);
  useEffect(() => {
    latest.current = playing;
  });
  useEffect(() => {
    if (!isPlaying) return;
    let before = performance.now();
    let request = 0;
    const tick = (now: number) => {
      const { atMs, endMs, onTick, onEnd } = latest.current;
      const next = atMs + now - before;
      before = now;
      onTick(Math.min(endMs, next));
      if (next >= endMs) onEnd();
      else request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [isPlaying]);
}
