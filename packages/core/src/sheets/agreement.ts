import type { JudgeAgreement, JudgedEntry, SheetVerdict } from "../contract/index.js";
import { groupBy } from "../group-by.js";

/** What the voters made of two entries: the sum of the signs of their leans, above 0 where most preferred the right one. */
export interface PairOutcome {
  leftEntryId: string;
  rightEntryId: string;
  net: number;
}

const RANK: Readonly<Record<SheetVerdict, number>> = { fail: 0, part: 1, pass: 2 };

/** Which of two a judge prefers, as a sign: by the verdict, and by the marks where the verdict is the same. 0 where the sheets do not tell. */
function preference(left: JudgedEntry, right: JudgedEntry): number {
  if (left.verdict === null || right.verdict === null) return 0;
  const byVerdict = Math.sign(RANK[right.verdict] - RANK[left.verdict]);
  if (byVerdict !== 0 || left.marks === null || right.marks === null) return byVerdict;
  return Math.sign(right.marks - left.marks);
}

/**
 * How often each judge's sheets prefer the same of two entries as most voters did. Only pairs that both decided count: a judge with equal
 * sheets and voters who are split say nothing.
 *
 * @param pairs each unordered pair at most once.
 * @returns judges in the order of their names; those without such a pair have 0 of 0.
 */
export function countAgreement(sheets: readonly JudgedEntry[], pairs: readonly PairOutcome[]): JudgeAgreement[] {
  const byJudge = groupBy(sheets, ({ judge }) => judge);
  return [...byJudge]
    .toSorted(([a], [b]) => (a < b ? -1 : 1))
    .map(([judge, own]) => {
      const sheetOf = new Map(own.map((sheet) => [sheet.entryId, sheet]));
      const decided = pairs.flatMap(({ leftEntryId, rightEntryId, net }) => {
        const [left, right] = [sheetOf.get(leftEntryId), sheetOf.get(rightEntryId)];
        const preferred = left === undefined || right === undefined ? 0 : preference(left, right);
        return preferred === 0 || net === 0 ? [] : [preferred === Math.sign(net)];
      });
      return { judge, pairs: decided.length, agreed: decided.filter(Boolean).length };
    });
}
