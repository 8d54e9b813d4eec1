import fc from "fast-check";
import { summarizeCells } from "@tourney/core/standings";
import { expect, it } from "vitest";
import { countTakes, type FactsByWording, FiguresByVersion, tallyCells } from "./cell-figures.js";
import type { CellFacts } from "./wall-queries.sql.js";

const VERSIONS = ["gorse", "heath", "sedge"];
const WORDINGS = ["one", "two", "three", "four"];

/** Whole numbers, whose sums do not hang on their order. */
const fact = fc.record({
  versionId: fc.constantFrom(...VERSIONS),
  verdict: fc.constantFrom("ok" as const, "refusal" as const),
  cells: fc.integer({ min: 1, max: 9 }),
  takes: fc.integer({ min: 1, max: 5 }),
  costUsd: fc.integer({ min: 0, max: 9 }),
  totalsMs: fc.array(fc.integer({ min: 1, max: 99 }), { maxLength: 3 }),
});
const toFact = (made: typeof fact extends fc.Arbitrary<infer T> ? T : never): CellFacts => ({
  ...{ state: "answered", outcome: "answered", hasEntry: true, hasPage: made.verdict === "ok" },
  ...{ renderState: made.verdict === "ok" ? "recorded" : null, hasError: false, isHelped: false },
  ...{ wordingId: "", promptId: "", costed: made.cells, tokens: 10, tokened: 1, timedTokens: 10, timedMs: 5 },
  ...made,
});

it("gives the figures that all facts come to, whichever wordings change, come and go", () => {
  const change = fc.record({
    wordingId: fc.constantFrom(...WORDINGS),
    facts: fc.option(fc.array(fact, { minLength: 1, maxLength: 5 })),
  });
  fc.assert(
    fc.property(fc.array(change, { maxLength: 12 }), (changes) => {
      const figures = new FiguresByVersion();
      let facts: FactsByWording = new Map();
      for (const { wordingId, facts: changed } of changes) {
        const next = new Map(facts);
        if (changed === null) next.delete(wordingId);
        else next.set(wordingId, changed.map(toFact));
        facts = next;
        figures.follow(facts);
        const all = [...facts.values()].flat();
        for (const version of VERSIONS)
          expect(figures.get(version)).toEqual(
            summarizeCells([tallyCells(all.filter(({ versionId }) => versionId === version))]),
          );
        expect(countTakes(facts)).toBe(Math.max(1, ...all.map(({ takes }) => takes)));
      }
    }),
  );
});

it("sums up again only the version whose cells came to something else", () => {
  const figures = new FiguresByVersion();
  const rows = (costUsd: number) =>
    VERSIONS.map((versionId, at) =>
      toFact({ versionId, verdict: "ok", cells: 1, takes: 1, costUsd: at === 0 ? costUsd : 1, totalsMs: [7] }),
    );
  const others = rows(5);
  figures.follow(
    new Map([
      ["one", rows(1)],
      ["two", others],
    ]),
  );
  const before = VERSIONS.map((version) => figures.get(version));
  figures.follow(
    new Map([
      ["one", rows(3)],
      ["two", others],
    ]),
  );
  expect(VERSIONS.map((version, at) => figures.get(version) === before[at])).toEqual([false, true, true]);
  expect(figures.get("gorse").costPerEntryUsd).toBe(4);
});
