import { describe, expect, it } from "vitest";
import { ballotsPath } from "./ballots-path.js";
import { withEdition } from "./edition-links.js";

describe("an address with the edition in it", () => {
  it("keeps the query and the place on the page", () => {
    expect(withEdition("/wall", "e1")).toBe("/wall?edition=e1");
    expect(withEdition("/voting?ballots=set+aside#ballots", "e1")).toBe("/voting?ballots=set+aside&edition=e1#ballots");
    expect(withEdition("/runs?edition=e2", "e1")).toBe("/runs?edition=e2");
    expect(withEdition("/voting#ballots", null)).toBe("/voting#ballots");
  });

  it("of ballots names what they are of, and nothing that is not said", () => {
    expect(ballotsPath({ ofId: "v1", againstId: "v2" })).toBe("/voting?ballots=that+count&of=v1&against=v2#ballots");
    expect(ballotsPath({ promptId: "p", panelId: undefined })).toBe("/voting?ballots=that+count&on=p#ballots");
  });
});
