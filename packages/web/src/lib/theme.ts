import { useSyncExternalStore } from "react";

export type ThemeChoice = "system" | "light" | "dark";

const STORAGE_KEY = "tourney-theme";
const listeners = new Set<() => void>();
const systemIsDark = () => window.matchMedia("(prefers-color-scheme: dark)").matches;

function readChoice(): ThemeChoice {
  const stored = localStorage.getItem(STORAGE_KEY);
  return stored === "light" || stored === "dark" ? stored : "system";
}

/** Puts the chosen theme on the page and keeps following the system while that is the choice. */
function applyTheme(): void {
  const choice = readChoice();
  const isDark = choice === "dark" || (choice === "system" && systemIsDark());
  document.documentElement.dataset["theme"] = isDark ? "dark" : "light";
  for (const listener of listeners) listener();
}

export function startTheme(): void {
  window.matchMedia("(prefers-color-scheme: dark)").addEventListener("change", applyTheme);
  applyTheme();
}

/** The choice and a way to change it. */
export function useTheme(): [ThemeChoice, (choice: ThemeChoice) => void] {
  const choice = useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, readChoice);
  return [
    choice,
    (next) => {
      if (next === "system") localStorage.removeItem(STORAGE_KEY);
      else localStorage.setItem(STORAGE_KEY, next);
      applyTheme();
    },
  ];
}
