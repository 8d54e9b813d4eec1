import type { JudgedEntry, WallCell } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { WALL } from "../../../test-support/fixtures.js";
import { arrangeColumns, arrangeRows, findNextPlace, matches, readView } from "./wall-view.js";

const view = (search = "") => readView(new URLSearchParams(search));
const cell = (more: Partial<WallCell>): WallCell => ({ ...WALL.cells[0]!, state: "recorded", findings: [], ...more });
const error = { rule: "exception" as const, severity: "error" as const, message: "x" };
const columns = [
  { ...WALL.entrants[0]!, maker: "Dune Works", costPerEntryUsd: 0.02, medianTotalMs: null, cleanShare: 0.5 },
  { ...WALL.entrants[1]!, maker: "Cliffhouse", costPerEntryUsd: 0.01, medianTotalMs: 900, cleanShare: 0.9 },
];
const names = (search: string, sheets: readonly JudgedEntry[] = []) =>
  arrangeColumns(columns, sheets, view(search)).map(({ name }) => name);
const [first, second] = columns.map(({ name }) => name) as [string, string];

describe("how the wall is looked at", () => {
  it("is read from the address, and what is not known there is left aside", () => {
    expect(view("columns=loudness&zoom=7&finding=bad&rows=trouble")).toMatchObject({
      columns: "entered",
      zoom: null,
      finding: null,
      rows: "trouble",
    });
    expect(view("zoom=4&finding=exception")).toMatchObject({ zoom: 4, finding: "exception" });
  });

  it("orders columns, with what is not known last", () => {
    expect(names("")).toEqual([first, second]);
    expect(names("columns=cost")).toEqual([second, first]);
    expect(names("columns=time")).toEqual([second, first]);
    expect(names("columns=clean")).toEqual([second, first]);
    const pass = { versionId: columns[0]!.version.id, verdict: "pass", marks: null, met: 0, judgedWatchpoints: 0 };
    expect(names("columns=sheets", [pass as JudgedEntry])).toEqual([first, second]);
    expect(names("maker=Cliffhouse")).toEqual([second]);
  });

  it("leaves the rows that have what is asked for, and puts trouble first", () => {
    const [one, two] = WALL.prompts;
    const cells: Record<string, WallCell[]> = { [one!.id]: [cell({})], [two!.id]: [cell({ findings: [error] })] };
    const rows = (search: string) =>
      arrangeRows(WALL.prompts, (id) => cells[id] ?? [], view(search)).map(({ id }) => id);
    expect(rows("")).toEqual([one!.id, two!.id]);
    expect(rows("rows=trouble")).toEqual([two!.id, one!.id]);
    expect(rows("finding=exception")).toEqual([two!.id]);
    expect(rows("look=1")).toEqual([two!.id]);
    expect(matches(cell({ findings: [{ ...error, severity: "note" }] }), view("finding=exception"))).toBe(false);
  });

  it("goes from one cell that is asked for to the next, in reading order, and stops at the end", () => {
    const asked = (row: number, column: number) => (row + column) % 3 === 2;
    const size = { rows: 2, columns: 3 };
    expect(findNextPlace([0, 0], 1, size, asked)).toEqual([0, 2]);
    expect(findNextPlace([0, 2], 1, size, asked)).toEqual([1, 1]);
    expect(findNextPlace([1, 1], 1, size, asked)).toBeNull();
    expect(findNextPlace([1, 1], -1, size, asked)).toEqual([0, 2]);
    expect(findNextPlace([0, 0], -1, size, asked)).toBeNull();
  });
});
