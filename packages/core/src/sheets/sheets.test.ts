import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { JudgedEntry, Recording, SheetVerdict } from "../contract/index.js";
import { countAgreement } from "./agreement.js";
import { listEvidence } from "./evidence.js";
import { tallyBy, tallySheets } from "./tally.js";

const sheet = (entryId: string, verdict: SheetVerdict | null, more: Partial<JudgedEntry> = {}): JudgedEntry => ({
  entryId,
  promptId: "p",
  kind: "game",
  entrantId: "n",
  versionId: "v",
  take: 1,
  turn: 1,
  mends: 0,
  corrections: 0,
  judge: "Ines",
  isBlind: false,
  verdict,
  marks: null,
  met: 0,
  judgedWatchpoints: 0,
  tags: [],
  updatedAt: "2031-05-12T08:00:00.000Z",
  ...more,
});

describe("a tally of score sheets", () => {
  it("counts verdicts, the mean of the marks that were given, and watch-points", () => {
    const tally = tallySheets([
      sheet("a", "pass", { marks: 9, met: 4, judgedWatchpoints: 4 }),
      sheet("b", "fail", { marks: 2, met: 1, judgedWatchpoints: 3 }),
      sheet("c", "part"),
      sheet("d", null, { met: 1, judgedWatchpoints: 1 }),
    ]);
    expect(tally).toEqual({
      judged: 3,
      verdicts: { pass: 1, part: 1, fail: 1 },
      meanMarks: 5.5,
      met: 6,
      judgedWatchpoints: 8,
    });
    expect(tallySheets([])).toMatchObject({ judged: 0, meanMarks: null });
  });

  it("splits into groups that add up to the whole", () => {
    const verdicts = fc.constantFrom<SheetVerdict | null>("pass", "part", "fail", null);
    fc.assert(
      fc.property(fc.array(fc.tuple(verdicts, fc.constantFrom("x", "y", "z"))), (drawn) => {
        const sheets = drawn.map(([verdict, entrantId], i) => sheet(String(i), verdict, { entrantId }));
        const parts = [...tallyBy(sheets, ({ entrantId }) => entrantId).values()];
        const whole = tallySheets(sheets);
        expect(parts.reduce((sum, { judged }) => sum + judged, 0)).toBe(whole.judged);
        expect(parts.reduce((sum, { verdicts: { pass } }) => sum + pass, 0)).toBe(whole.verdicts.pass);
      }),
    );
  });
});

describe("agreement with the voters", () => {
  it("counts pairs that both decided, by the verdict first and then by the marks", () => {
    const sheets = [
      sheet("a", "pass", { marks: 7 }),
      sheet("b", "fail"),
      sheet("c", "pass", { marks: 9 }),
      sheet("d", null),
    ];
    const pairs = [
      { leftEntryId: "a", rightEntryId: "b", net: -3 },
      { leftEntryId: "a", rightEntryId: "c", net: -1 },
      { leftEntryId: "b", rightEntryId: "c", net: 0 },
      { leftEntryId: "c", rightEntryId: "d", net: -4 },
      { leftEntryId: "a", rightEntryId: "elsewhere", net: 2 },
    ];
    expect(countAgreement(sheets, pairs)).toEqual([{ judge: "Ines", pairs: 2, agreed: 1 }]);
  });

  it("is the same whichever side an entry stood on, and keeps judges apart", () => {
    const sheets = [
      sheet("a", "pass"),
      sheet("b", "part"),
      sheet("a", "fail", { judge: "Bo" }),
      sheet("b", "part", { judge: "Bo" }),
    ];
    const left = countAgreement(sheets, [{ leftEntryId: "a", rightEntryId: "b", net: -2 }]);
    const right = countAgreement(sheets, [{ leftEntryId: "b", rightEntryId: "a", net: 2 }]);
    expect(left).toEqual(right);
    expect(left).toEqual([
      { judge: "Bo", pairs: 1, agreed: 0 },
      { judge: "Ines", pairs: 1, agreed: 1 },
    ]);
  });
});

describe("evidence beside a watch-point", () => {
  const recording = {
    controls: [
      { control: "key ArrowUp", state: "answers" },
      { control: "key Space", state: "dead" },
      { control: "key a", state: "not_tried" },
    ],
    steps: [
      { effect: "changed", control: "key ArrowUp" },
      { effect: "none", control: "key Space" },
    ],
    metrics: { motion: [0, 0.1, 0.0001, 0.2] },
    findings: [{ rule: "unreadable_text", message: "2 lines of text cannot be read" }],
  } as unknown as Recording;

  it("says what the recording knows of the sort of evidence that is asked for", () => {
    expect(listEvidence({ text: "the wick answers", evidence: "controls" }, recording)).toEqual([
      "1 of 2 controls answer",
      "key Space does nothing",
    ]);
    expect(listEvidence({ text: "it moves", evidence: "motion" }, recording)).toEqual([
      "something moves in 2 of 4 steps of the recording",
    ]);
    expect(listEvidence({ text: "it can be read", evidence: "text" }, recording)).toEqual([
      "2 lines of text cannot be read",
    ]);
  });

  it("says nothing where no evidence is named", () => {
    expect(listEvidence("the hour is shown", recording)).toEqual([]);
    expect(listEvidence({ text: "the code is clear", evidence: "code" }, recording)).toEqual([]);
  });
});
