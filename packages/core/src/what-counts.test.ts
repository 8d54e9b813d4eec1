import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { EVERYTHING, type WhatCounts } from "./contract/index.js";
import { describeCounts, isEverything, readCounts, writeCounts } from "./what-counts.js";

/** What of URLSearchParams is read. */
const queryOf = (pairs: readonly (readonly [string, string])[]) => {
  const getAll = (name: string) => pairs.filter(([key]) => key === name).map(([, value]) => value);
  return { getAll, get: (name: string) => getAll(name)[0] ?? null };
};
const ID = "00000000-0000-4000-8000-000000000001";
const choice: fc.Arbitrary<WhatCounts> = fc.record({
  kind: fc.uniqueArray(fc.constantFrom("game" as const, "app" as const), { maxLength: 2 }),
  tag: fc.array(fc.string({ minLength: 1, maxLength: 9 }), { maxLength: 3 }),
  prompt: fc.array(fc.constantFrom("locks", "table"), { maxLength: 2 }),
  panel: fc.array(fc.constant(ID), { maxLength: 1 }),
  without: fc.array(fc.constant(ID), { maxLength: 1 }),
  from: fc.option(fc.constant("2026-02-28"), { nil: undefined }),
  to: fc.option(fc.constant("2026-03-01"), { nil: undefined }),
  versions: fc.constantFrom("present" as const, "all" as const),
  broken: fc.constantFrom("as_voted" as const, "lose" as const, "leave_out" as const),
  undelivered: fc.constantFrom("as_voted" as const, "leave_out" as const),
  pages: fc.constantFrom("first", "mended-1", "mended-10"),
  variants: fc.constantFrom("in" as const, "out" as const),
});

describe("what counts, in an address", () => {
  it("is read as it was written", () => {
    fc.assert(
      fc.property(choice, (counts) => {
        const written = writeCounts(counts);
        expect(readCounts(queryOf(written))).toEqual(counts);
        expect(isEverything(counts)).toBe(written.length === 0);
      }),
    );
  });

  it("limits nothing by what cannot be read", () => {
    const query = queryOf([
      ["kind", "poem"],
      ["from", "yesterday"],
      ["broken", "lose"],
      ["edition", "3"],
    ]);
    expect(readCounts(query)).toEqual({ ...EVERYTHING, broken: "lose" });
  });
});

describe("what counts, in words", () => {
  const names = {
    prompts: [
      { key: "locks", title: "Lock Keeper" },
      { key: "table", title: "Tide Table" },
    ],
    panels: [{ id: ID, title: "Friends" }],
  };
  const say = (counts: Partial<WhatCounts>) => describeCounts({ ...EVERYTHING, ...counts }, names);

  it("says each thing that is chosen", () => {
    expect(say({})).toBe("All ballots.");
    expect(say({ kind: ["game", "app"], panel: [ID], without: [ID] })).toBe(
      "Only ballots on games and apps, of panel Friends, without one voter.",
    );
    expect(say({ prompt: ["locks", "table"], from: "2026-11-03" })).toBe(
      "Only ballots on Lock Keeper and Tide Table, cast since 3 November 2026 (UTC).",
    );
    expect(say({ tag: ["a", "b"], variants: "out", broken: "lose", undelivered: "leave_out", versions: "all" })).toBe(
      "Only ballots on what is tagged a or b, on no variants. Older set-ups compete, too. Pages that show nothing lose. What was not delivered is left out.",
    );
  });

  it("counts what would be a long list", () => {
    expect(say({ prompt: ["a", "b", "c", "d", "e"] })).toBe("Only ballots on 5 prompts.");
  });
});
