import { useSyncExternalStore } from "react";

const STORAGE_KEY = "tourney.judge";
/** Whoever has not said a name judges as this. */
const UNNAMED = "Lead";
const listeners = new Set<() => void>();

const readJudge = (): string => window.localStorage.getItem(STORAGE_KEY) ?? UNNAMED;

function writeJudge(name: string): void {
  window.localStorage.setItem(STORAGE_KEY, name.trim() || UNNAMED);
  for (const listener of listeners) listener();
}

/** Whose score sheets this browser fills in, and a way to change it. */
export function useJudge(): [string, (name: string) => void] {
  const judge = useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, readJudge);
  return [judge, writeJudge];
}
