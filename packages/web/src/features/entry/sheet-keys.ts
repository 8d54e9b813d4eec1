import type { SheetVerdict, WatchpointMark } from "@tourney/core/contract";
import type { SheetParts } from "./use-sheet.js";

export const VERDICT_KEYS: Readonly<Record<SheetVerdict, string>> = { pass: "a", part: "s", fail: "d" };
const CYCLE: readonly (WatchpointMark | null)[] = [null, "met", "not_met", "unsure"];

export const markOf = ({ watchpoints }: SheetParts, text: string): WatchpointMark | null =>
  watchpoints.find((watchpoint) => watchpoint.text === text)?.mark ?? null;

/** The sheet's watch-points with one of them marked, or its mark taken away. */
export function setMark(sheet: SheetParts, text: string, mark: WatchpointMark | null): SheetParts["watchpoints"] {
  const others = sheet.watchpoints.filter((watchpoint) => watchpoint.text !== text);
  return mark === null ? others : [...others, { text, mark }];
}

/**
 * What a key changes on a sheet: 1–9 go through a watch-point's marks, A S D give a verdict or take it back, − and + lower and raise the marks.
 *
 * @param texts the prompt's watch-points in order.
 * @returns null for a key that changes nothing.
 */
export function pressKey(sheet: SheetParts, texts: readonly string[], key: string): Partial<SheetParts> | null {
  const text = /^[1-9]$/.test(key) ? texts[Number(key) - 1] : undefined;
  if (text !== undefined) {
    const next = CYCLE[(CYCLE.indexOf(markOf(sheet, text)) + 1) % CYCLE.length]!;
    return { watchpoints: setMark(sheet, text, next) };
  }
  for (const [verdict, of] of Object.entries(VERDICT_KEYS) as [SheetVerdict, string][])
    if (key.toLowerCase() === of) return { verdict: sheet.verdict === verdict ? null : verdict };
  if (key === "+" || key === "=") return { marks: Math.min(10, (sheet.marks ?? 4) + 1) };
  if (key === "-") return { marks: Math.max(0, (sheet.marks ?? 6) - 1) };
  return null;
}
