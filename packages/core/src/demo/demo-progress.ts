import type { DemoProgress } from "../contract/index.js";

const count = (n: number, of: number, what: string): string =>
  `${n.toLocaleString("en")} of ${of.toLocaleString("en")} ${what}`;

function describeRemaining(seconds: number | null): string {
  if (seconds === null) return "how long it takes is known in a minute";
  const minutes = Math.round(seconds / 60);
  return minutes < 1
    ? "less than a minute left"
    : minutes === 1
      ? "about a minute left"
      : `about ${minutes} minutes left`;
}

/** How far the demo's sample data are, in one line: the same on screen and in the terminal. */
export function describeDemoProgress({
  rows,
  rowsReady,
  toRecord,
  recorded,
  ballots,
  ballotsPlanned,
  remainingSeconds,
}: DemoProgress): string {
  const parts = [
    count(recorded, toRecord, "outputs recorded"),
    count(rowsReady, rows, "rows ready to vote on"),
    count(ballots, ballotsPlanned, "sample ballots"),
  ];
  return `${parts.join(", ")}; ${describeRemaining(remainingSeconds)}`;
}
