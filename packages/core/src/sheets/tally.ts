import type { JudgedEntry, SheetVerdict } from "../contract/index.js";
import { groupBy } from "../group-by.js";

/** What a number of score sheets come to. */
export interface SheetTally {
  /** Sheets with a verdict. */
  judged: number;
  verdicts: Record<SheetVerdict, number>;
  /** Mean of the marks out of ten, 0–10; null where nobody gave marks. */
  meanMarks: number | null;
  /** Watch-points met, and those that somebody could tell. */
  met: number;
  judgedWatchpoints: number;
}

/**
 * Counts score sheets. Each sheet counts once, whoever filled it in; two judges of one entry are two sheets.
 *
 * @returns with zeros and null for no sheets.
 */
export function tallySheets(sheets: readonly JudgedEntry[]): SheetTally {
  const verdicts: Record<SheetVerdict, number> = { pass: 0, part: 0, fail: 0 };
  for (const { verdict } of sheets) if (verdict !== null) verdicts[verdict]++;
  const marks = sheets.flatMap((sheet) => sheet.marks ?? []);
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
  return {
    judged: verdicts.pass + verdicts.part + verdicts.fail,
    verdicts,
    meanMarks: marks.length === 0 ? null : sum(marks) / marks.length,
    met: sum(sheets.map(({ met }) => met)),
    judgedWatchpoints: sum(sheets.map(({ judgedWatchpoints }) => judgedWatchpoints)),
  };
}

/** Sheets by what they share, each group tallied; in the order in which the groups first come. */
export function tallyBy(
  sheets: readonly JudgedEntry[],
  keyOf: (sheet: JudgedEntry) => string,
): Map<string, SheetTally> {
  return new Map([...groupBy(sheets, keyOf)].map(([key, group]) => [key, tallySheets(group)]));
}

/** Whether an entry is what the model answered first: neither mended nor corrected. */
export const isFirstShot = ({ mends, corrections }: Pick<JudgedEntry, "mends" | "corrections">): boolean =>
  mends === 0 && corrections === 0;
