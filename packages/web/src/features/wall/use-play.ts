import { useEffect, useState } from "react";

/** What is played: the row of a prompt, or the column of a version. */
interface Played {
  axis: "row" | "column";
  id: string;
  /** Of the longest recording in it. */
  seconds: number;
}

/** Which cells of a row are played. */
export interface PlayedCells {
  /** Null is all of them. */
  versionId: string | null;
  atMs: number;
}

/** Recordings have two or three pictures a second. */
const STEP_MS = 100;

/** Plays a row or a column in step: every cell shows the same moment of page time. The same again stops it. */
export function usePlay(prompts: readonly { id: string; seconds: number }[]) {
  const [played, setPlayed] = useState<Played | null>(null);
  const [atMs, setAtMs] = useState(0);
  useEffect(() => {
    if (played === null) return;
    const startedAt = performance.now();
    const timer = setInterval(() => {
      const now = performance.now() - startedAt;
      if (now < played.seconds * 1000) setAtMs(now);
      else setPlayed(null);
    }, STEP_MS);
    return () => clearInterval(timer);
  }, [played]);
  const toggle = (next: Played) => {
    setAtMs(0);
    setPlayed((now) => (now?.axis === next.axis && now.id === next.id ? null : next));
  };
  return {
    played,
    row: (id: string) => toggle({ axis: "row", id, seconds: prompts.find((prompt) => prompt.id === id)?.seconds ?? 0 }),
    column: (id: string) =>
      toggle({ axis: "column", id, seconds: Math.max(0, ...prompts.map(({ seconds }) => seconds)) }),
    /** What is played of a prompt's row; null, the same for all other rows, while nothing is. */
    playedOf: (promptId: string): PlayedCells | null => {
      if (played === null || (played.axis === "row" && played.id !== promptId)) return null;
      return { versionId: played.axis === "row" ? null : played.id, atMs };
    },
  };
}
