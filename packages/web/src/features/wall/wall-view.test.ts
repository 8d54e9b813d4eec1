import type { JudgedEntry, WallCell } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { WALL } from "../../../test-support/fixtures.js";
import { knowWall, type WallKnowledge } from "./wall-knowledge.js";
import { arrangeColumns, arrangeRows, asksForCells, findNextPlace, matches, readView, settledBy } from "./wall-view.js";

const view = (search = "") => readView(new URLSearchParams(search));
const cell = (more: Partial<WallCell>): WallCell => ({ ...WALL.cells[0]!, state: "recorded", findings: [], ...more });
const NOTHING = knowWall(WALL.entrants, [], undefined);
const error = { rule: "exception" as const, severity: "error" as const, message: "x" };
const columns = [
  { ...WALL.entrants[0]!, maker: "Dune Works", costPerEntryUsd: 0.02, medianTotalMs: null, cleanShare: 0.5 },
  { ...WALL.entrants[1]!, maker: "Cliffhouse", costPerEntryUsd: 0.01, medianTotalMs: 900, cleanShare: 0.9 },
];
const names = (search: string, known: WallKnowledge = NOTHING) =>
  arrangeColumns(columns, known, view(search)).map(({ name }) => name);
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
    expect(names("columns=sheets", knowWall(columns, [pass as JudgedEntry], undefined))).toEqual([first, second]);
    const [gorse, heath] = columns.map(({ version }) => version.id) as [string, string];
    const overall = [
      { versionId: heath, rating: 1600 },
      { versionId: gorse, rating: 1400 },
    ];
    expect(names("columns=rating", knowWall(columns, [], { overall, prompts: [], categories: [] }))).toEqual([
      second,
      first,
    ]);
    expect(names(`entrant=${columns[1]!.key}`)).toEqual([second]);
    expect(names("maker=Cliffhouse")).toEqual([second]);
  });

  it("leaves the rows that have what is asked for, and puts trouble first", () => {
    const [one, two] = WALL.prompts;
    const cells: Record<string, WallCell[]> = { [one!.id]: [cell({})], [two!.id]: [cell({ findings: [error] })] };
    const rows = (search: string) =>
      arrangeRows(WALL.prompts, (id) => cells[id] ?? [], { view: view(search), known: NOTHING }).map(({ id }) => id);
    expect(rows("")).toEqual([one!.id, two!.id]);
    expect(rows("rows=trouble")).toEqual([two!.id, one!.id]);
    expect(rows("finding=exception")).toEqual([two!.id]);
    expect(rows("look=1")).toEqual([two!.id]);
    expect(matches(cell({ findings: [{ ...error, severity: "note" }] }), view("finding=exception"), NOTHING)).toBe(
      false,
    );
  });

  it("leaves the cells of an outcome, a verdict, a sheet's tag and a date, and says who settled what", () => {
    const troubled = cell({ entryId: "e", findings: [error], answeredAt: "2026-02-03T23:00:00.000Z" });
    const sheet = { entryId: "e", promptId: "p", verdict: "fail", judge: "Ada", tags: ["wrong program"] } as unknown;
    const judged = knowWall(WALL.entrants, [sheet as JudgedEntry], undefined);
    const has = (search: string, one = troubled, known = judged) => matches(one, view(search), known);
    expect(["outcome=recorded", "outcome=none", "outcome=loud"].map((search) => has(search))).toEqual([
      true,
      false,
      true,
    ]);
    expect(["verdict=fail", "verdict=pass", "verdict=none"].map((search) => has(search))).toEqual([true, false, false]);
    expect(has("verdict=none", troubled, NOTHING)).toBe(true);
    expect(["sheet=wrong program", "sheet=favourite"].map((search) => has(search))).toEqual([true, false]);
    expect(["since=2026-02-03", "since=2026-02-04", "since=soon"].map((search) => has(search))).toEqual([
      true,
      false,
      true,
    ]);
    expect(settledBy(troubled, judged)).toEqual(["Ada"]);
    expect(settledBy(troubled, NOTHING)).toEqual([]);
    expect(settledBy(cell({ entryId: "e" }), judged)).toEqual([]);
    expect(asksForCells(view("outcome=none"))).toBe(true);
    expect(asksForCells(view("columns=cost&kind=game"))).toBe(false);
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
