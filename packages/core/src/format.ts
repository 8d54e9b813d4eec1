/** Dollars with as many decimals as the amount needs: $4.18, $0.071, $0.0004. */
export function formatUsd(usd: number | null): string {
  if (usd === null) return "—";
  if (usd === 0) return "$0";
  const decimals = usd >= 1 ? 2 : usd >= 0.01 ? 3 : 4;
  return usd < 0.00005 ? "<$0.0001" : `$${usd.toFixed(decimals)}`;
}

/** A share 0–1 in whole per cent. */
export const formatShare = (share: number | null): string => (share === null ? "—" : `${Math.round(share * 100)} %`);

/** Milliseconds as people say them: 410 ms, 9.2 s, 41 s, 1 m 12. */
export function formatMs(ms: number | null): string {
  if (ms === null) return "—";
  if (ms < 1000) return `${Math.round(ms)} ms`;
  if (ms < 10_000) return `${(ms / 1000).toFixed(1)} s`;
  const seconds = Math.round(ms / 1000);
  return seconds < 60 ? `${seconds} s` : `${Math.floor(seconds / 60)} m ${String(seconds % 60).padStart(2, "0")}`;
}

const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long" });

/** "12 November". */
export const formatDay = (iso: string): string => day.format(new Date(iso));

/** "1 ballot", "2 ballots". */
export const count = (n: number, one: string, many = `${one}s`): string =>
  `${n.toLocaleString("en")} ${n === 1 ? one : many}`;

/** "Una", "Una and Tor", "Una, Tor and Ine". */
export const joinNames = (names: readonly string[], joint: "and" | "or" = "and"): string =>
  names.length < 2 ? names.join("") : `${names.slice(0, -1).join(", ")} ${joint} ${names.at(-1)!}`;
