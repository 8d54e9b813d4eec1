import { useEffect, useState } from "react";

/** What is played: the row of a prompt, or the column of a version. */
interface Played {
  axis: "row" | "column";
  id: string;
  /** Of the longest recording in it. */
  seconds: number;
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
    /** Where in its recording a cell is, 0–1; null while it is not played. */
    shareOf: (promptId: string, versionId: string, seconds: number): number | null =>
      played !== null && (played.axis === "row" ? promptId : versionId) === played.id
        ? Math.min(0.999, atMs / (seconds * 1000))
        : null,
  };
}
