import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { BallotTable, rateTable } from "../ballot-table/index.js";
import { defuse, EXPORT_COLUMNS, type ExportedBallot, keyOfVersion, toCells } from "./index.js";

const BALLOT: ExportedBallot = {
  voter: "una",
  prompt: "locks",
  kind: "game",
  left: "gorse",
  right: "heath@2",
  lean: -2,
  left_works: true,
  right_works: false,
  at: "2026-01-01T00:00:00.000Z",
  ballot: "1",
  voter_name: "",
  panel: "=HYPERLINK(1)",
  bout: 3,
  left_name: "Gorse",
  right_name: "Heath",
  left_entry: "a",
  right_entry: "b",
  asked_because: "close to each other",
  reasons: ["looks", "motion"],
  note: "-1 for the sound",
  seconds: 12.5,
  unseen: false,
  repeat: false,
  voted_lean: -2,
  sample: true,
  window: "1280×800",
  pointer: "mouse",
  frame_rate: 60,
  not_counted: "",
};
const cellsOf = (ballot: ExportedBallot) =>
  Object.fromEntries(EXPORT_COLUMNS.map((column, index) => [column, toCells(ballot)[index]]));

describe("a ballot that leaves Tourney", () => {
  it("has each column once, its texts defused, its numbers as they are", () => {
    expect(new Set(EXPORT_COLUMNS).size).toBe(EXPORT_COLUMNS.length);
    expect(cellsOf(BALLOT)).toMatchObject({
      lean: "-2",
      left_works: "true",
      right_works: "false",
      panel: "'=HYPERLINK(1)",
      note: "'-1 for the sound",
      reasons: "looks; motion",
      seconds: "12.5",
      not_counted: "",
    });
  });

  it("is read by what rates tables, names and all", () => {
    const table = new BallotTable([...EXPORT_COLUMNS]);
    table.add(toCells(BALLOT), 2);
    expect(rateTable(table).standings.map(({ entrant, worksShare }) => [entrant, worksShare])).toEqual([
      ["gorse", 1],
      ["heath@2", 0],
    ]);
  });

  it("has no cell that a spreadsheet would run, whatever people wrote", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), fc.constantFrom("=", "+", "-", "@", "\t", "\r", ""), (text, start) => {
        expect(defuse(start + text)).not.toMatch(/^[=+\-@\t\r]/);
        expect(defuse(start + text).endsWith(start + text)).toBe(true);
      }),
    );
  });

  it("names an older version of an entrant by its number", () => {
    expect(keyOfVersion("gorse", { number: 1, isPresent: false })).toBe("gorse@1");
    expect(keyOfVersion("gorse", { number: 2, isPresent: true })).toBe("gorse");
  });
});
