export { count, formatDay, formatMs, formatShare, formatUsd } from "@tourney/core/format";

const STEPS: readonly [limitS: number, divisorS: number, unit: Intl.RelativeTimeFormatUnit][] = [
  [60, 1, "second"],
  [3600, 60, "minute"],
  [86_400, 3600, "hour"],
  [Infinity, 86_400, "day"],
];
const relative = new Intl.RelativeTimeFormat("en", { numeric: "auto" });

/** "2 minutes ago"; show the exact time on hover. */
export function formatAgo(iso: string, nowMs: number): string {
  const seconds = Math.max(0, (nowMs - Date.parse(iso)) / 1000);
  if (seconds < 5) return "just now";
  const [, divisor, unit] = STEPS.find(([limit]) => seconds < limit)!;
  return relative.format(-Math.round(seconds / divisor), unit);
}

export const formatExact = (iso: string): string =>
  new Date(iso).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "medium" });
