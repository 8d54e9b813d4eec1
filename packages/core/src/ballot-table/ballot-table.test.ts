import { describe, expect, it } from "vitest";
import { BallotTable, rateTable } from "./index.js";

const HEAD = ["voter", "prompt", "kind", "left", "right", "lean", "left_works", "right_works", "at"];

describe("a table of ballots", () => {
  it("is rated with names, whatever the order of its columns", () => {
    const table = new BallotTable(["Lean", " right ", "left", "prompt", "voter", "weather"]);
    for (const voter of ["una", "max"])
      for (const prompt of ["p1", "p2"]) table.add(["-2", "Bugle", "Avens", prompt, voter, "rain"], 2);
    const { standings, clusters, ballots } = rateTable(table);
    expect(standings.map(({ entrant }) => entrant)).toEqual(["Avens", "Bugle"]);
    expect([ballots, clusters]).toEqual([4, { voters: 2, prompts: 2 }]);
    expect(standings[0]!.worksShare).toBe(1);
  });

  it("counts on how many ballots each works", () => {
    const table = new BallotTable(HEAD);
    table.add(["una", "p1", "game", "A", "B", "0", "true", "no", ""], 2);
    table.add(["una", "p1", "game", "B", "A", "1", "", "0", ""], 3);
    const works = Object.fromEntries(
      rateTable(table).standings.map(({ entrant, worksShare }) => [entrant, worksShare]),
    );
    expect(works).toEqual({ A: 0.5, B: 0.5 });
  });

  it("passes over a ballot that says why it is not counted", () => {
    const table = new BallotTable([...HEAD, "not_counted"]);
    table.add(["una", "p1", "game", "A", "B", "0", "1", "1", "", ""], 2);
    table.add(["una", "p1", "game", "A", "B", "2", "1", "1", "", "voided: a slip"], 3);
    expect(table.length).toBe(1);
  });

  it("takes one kind only, if asked", () => {
    const table = new BallotTable(HEAD, "game");
    table.add(["una", "p1", "game", "A", "B", "0", "1", "1", ""], 2);
    table.add(["una", "p2", "app", "A", "B", "0", "1", "1", ""], 3);
    expect(table.length).toBe(1);
    expect(() => new BallotTable(["voter", "prompt", "left", "right", "lean"], "game")).toThrow("no column “kind”");
  });

  it("takes a formula for a name where a name stands, and for nonsense where a number does", () => {
    const table = new BallotTable(HEAD);
    table.add(["una", "p1", "game", "=1+1", "@x", "0", "1", "1", ""], 2);
    expect(rateTable(table).standings.map(({ entrant }) => entrant)).toEqual(["=1+1", "@x"]);
    expect(() => table.add(["una", "p1", "game", "A", "B", "=1+1", "1", "1", ""], 3)).toThrow(
      'Line 3 has the lean "=1+1"',
    );
  });

  it.each([
    [["una", "p1", "game", "A", "A", "0", "1", "1"], 'pairs "A" with itself'],
    [["una", "p1", "game", "A", "B", "3", "1", "1"], 'the lean "3"'],
    [["una", "p1", "game", "A", "B", "0.5", "1", "1"], 'the lean "0.5"'],
    [["una", "p1", "game", "A", "B", "", "1", "1"], "has no lean"],
    [["", "p1", "game", "A", "B", "0", "1", "1"], "has no voter"],
    [["una"], "has no prompt"],
    [["una", "p1", "game", "A", "B", "0", "maybe", "1"], "neither true nor false"],
  ])("says which line is wrong and how: %o", (cells, message) => {
    expect(() => new BallotTable(HEAD).add(cells, 7)).toThrow(new RegExp(`^Line 7 .*${message}`));
  });

  it("says which columns are missing or there twice", () => {
    expect(() => new BallotTable(["a", "b"])).toThrow("no column “voter”, “prompt”, “left”, “right”, “lean”");
    expect(() => new BallotTable([...HEAD, "lean"])).toThrow("the column “lean” twice");
  });
});
