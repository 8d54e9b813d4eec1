import type { SheetTally } from "@tourney/core/sheets";
import { count } from "./format.js";

/** What score sheets come to, in few words and in more. */
export function describeTally({ judged, verdicts, meanMarks, met, judgedWatchpoints }: SheetTally): {
  short: string;
  long: string;
} {
  if (judged === 0) return { short: "not judged", long: "No score sheet has a verdict yet" };
  const marks = meanMarks === null ? [] : [meanMarks.toFixed(1)];
  return {
    short: [`${verdicts.pass} of ${judged} pass`, ...marks].join(" · "),
    long: [
      `${count(judged, "score sheet")}: ${verdicts.pass} pass, ${verdicts.part} part, ${verdicts.fail} fail`,
      ...marks.map((mean) => `${mean} of ten on average`),
      ...(judgedWatchpoints === 0 ? [] : [`${met} of ${count(judgedWatchpoints, "watch-point")} met`]),
    ].join("; "),
  };
}
