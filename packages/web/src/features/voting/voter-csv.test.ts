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
  lastBallotAt: null,
  ...more,
});

describe("names of voters", () => {
  it("are read one a line, or from the first column of a table", () => {
    expect(readNames("Una\n\n Callum \r\n")).toEqual(["Una", "Callum"]);
    expect(readNames('\uFEFFName,mail\n"MacLeod, Una",una@example.org\nCallum;x')).toEqual(["MacLeod, Una", "Callum"]);
    expect(readNames('"A ""B"" C",1')).toEqual(['A "B" C']);
    expect(readNames("  \n")).toEqual([]);
  });
  it("go out with their links, quoted, and never as a formula", () => {
    const voters = [voter("Una"), voter('=1+1,"x"'), voter("gone", { revoked: true }), voter("open", { url: null })];
    expect(invitationsCsv({ voters })).toBe(
      `"name","link"\r\n"Una","http://localhost/vote/x#Una"\r\n"'=1+1,""x""","http://localhost/vote/x#=1+1,""x"""\r\n`,
    );
  });
});
