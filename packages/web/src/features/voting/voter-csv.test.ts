import { describe, expect, it } from "vitest";
import { invitationsCsv, readNames } from "./voter-csv.js";

const voter = (name: string, more: object = {}) => ({
  id: name,
  name,
  sample: false,
  isLead: false,
  url: `http://localhost/vote/x#${name}`,
  revoked: false,
  leftOut: null,
  ballots: 0,
  skipped: 0,
  sharesPlaceWith: 0,
  lastBallotAt: null,
  ...more,
});

const namesIn = (text: string) => readNames(text).names;

describe("names of voters", () => {
  it("are read one a line, or from the first column of a table", () => {
    expect(namesIn("Una\n\n Callum \r\n")).toEqual(["Una", "Callum"]);
    expect(namesIn('\uFEFFName,mail\n"MacLeod, Una",una@example.org\nCallum;x')).toEqual(["MacLeod, Una", "Callum"]);
    expect(namesIn('"A ""B"" C",1')).toEqual(['A "B" C']);
    expect(namesIn('Una "Wee" Reid\nCallum')).toEqual(['Una "Wee" Reid', "Callum"]);
    expect(namesIn("  \n")).toEqual([]);
    // While it is being typed, a quotation mark stands open.
    expect(readNames('Una\n"Mac')).toEqual({
      names: ["Una"],
      problem: "A quotation mark in line 2 is not closed: what follows it is not read.",
    });
  });
  it("go out with their links, quoted, and never as a formula", () => {
    const voters = [voter("Una"), voter('=1+1,"x"'), voter("gone", { revoked: true }), voter("open", { url: null })];
    expect(invitationsCsv({ voters })).toBe(
      `"name","link"\r\n"Una","http://localhost/vote/x#Una"\r\n"'=1+1,""x""","http://localhost/vote/x#=1+1,""x"""\r\n`,
    );
  });
});
