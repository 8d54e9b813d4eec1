import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { answerInSentences } from "../conclusions/index.js";
import { EVERYTHING, type Mending, type Standing, type Standings } from "../contract/index.js";
import { html } from "./html.js";
import { renderReport } from "./index.js";

const row = (name: string, rating: number | null, more: Partial<Standing> = {}): Standing => ({
  entrant: { id: name, key: name, name, maker: "", glyph: 0, sample: true },
  version: { id: name, number: 1, isPresent: true, until: null },
  ...{ rating, halfWidth: rating === null ? null : 50, rankRange: rating === null ? null : [1, 2], component: 0 },
  ...{ ballots: 10, worksShare: 1, delivery: { pages: 2, none: 0, owed: 0 }, cleanShare: 1 },
  ...{ costPerEntryUsd: null, medianTotalMs: null, tokensPerEntry: null, tokensPerSecond: null },
  ...more,
});
const standings = (rows: Standing[], more: Partial<Standings> = {}): Standings => ({
  edition: {
    ...{ id: "e", suiteKey: "s", suiteTitle: "A <suite>", number: 2, digest: "d".repeat(64), promptCount: 2 },
    ...{ generations: 0, sample: true, archived: false, frozenAt: "2026-01-01T00:00:00.000Z" },
  },
  counts: EVERYTHING,
  ...{ methodVersion: "m", ballots: 20, sampleBallots: 20, voters: 3, prompts: 2, components: 1, side: null },
  ...{ forecasts: [], succession: [], rows, sources: [], formerVersions: 0, setAside: 0, brackets: [], circles: [] },
  headToHead: rows.flatMap((_, i) => rows.slice(i + 1).map((): [number, null, null] => [0, null, null])),
  countedAt: "2026-01-01T00:00:00.000Z",
  ...more,
});
const input = (of: Standings) => ({
  standings: of,
  ratings: { overall: [], prompts: [], categories: [] },
  mending: [] as Mending[],
  ...{ basis: { prompts: [], panels: [] }, shown: [], conditions: [], madeAt: "2026-01-02T00:00:00.000Z" },
  ...{ rendererVersion: "7", inputDigest: "f".repeat(64) },
});

describe("the answer", () => {
  const first: Partial<Standing> = { rankRange: [1, 1], costPerEntryUsd: 0.05 };
  const second: Partial<Standing> = { rankRange: [2, 2], costPerEntryUsd: 0.01 };

  it("names who leads, what that costs and who is best for less, and what it rests on", () => {
    expect(answerInSentences(standings([row("Gorse", 1700, first), row("Heath", 1500, second)]))).toEqual([
      "Of 2 entrants, Gorse builds the pages that people prefer.",
      "It costs $0.050 a page; the best that costs less is Heath, at $0.010.",
      "This rests on 20 blind ballots by 3 people on 2 prompts, and allows for other people and other prompts of this sort.",
    ]);
  });

  it("names nobody as the best whom the ballots do not tell apart", () => {
    const tied = [row("Gorse", 1600), row("Heath", 1590), row("Sedge", 1400, { rankRange: [3, 3] })];
    expect(answerInSentences(standings(tied, { brackets: [[0, 1]] }))[0]).toBe(
      "Of 3 entrants, Gorse and Heath could be the best: Gorse is rated highest, but the ballots do not tell the two apart.",
    );
    expect(answerInSentences(standings([row("Gorse", 1600), row("Heath", 1590)]))[0]).toContain(
      "any could be the best",
    );
    expect(answerInSentences(standings([row("Gorse", null)]))).toHaveLength(1);
  });
});

describe("a report", () => {
  it("says that its data are sample data, what counts, and by which method and ballots", () => {
    const page = renderReport(
      input(standings([row("Gorse", 1700), row("Heath", 1500)], { counts: { ...EVERYTHING, broken: "lose" } })),
    );
    expect(page).toContain("<h1>A &lt;suite&gt;, edition 2</h1>");
    expect(page).toContain("All of it is sample data");
    expect(page).toContain("Pages that show nothing lose.");
    expect(page).toContain("f".repeat(64));
  });

  it("has no script and asks for nothing, whatever names and titles are", () => {
    const hostile = `"><script>alert(1)</script><img src=https://x.example/a onerror=1>`;
    const page = renderReport({
      ...input(standings([row(hostile, 1700), row("Heath", 1500)])),
      conditions: [{ name: hostile, model: hostile, settings: hostile }],
    });
    expect(page).not.toMatch(/<script|<img src=https|<link|@import/);
    expect(page).toContain("default-src 'none'");
  });

  it("puts any text in as text", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), (text) => {
        const { text: made } = html`${text}`;
        expect(made).not.toMatch(/[<>"']/);
      }),
    );
  });
});
