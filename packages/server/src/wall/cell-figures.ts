import { isDeepStrictEqual } from "node:util";
import { groupBy } from "@tourney/core/group-by";
import { type CellTally, type CompetitorFigures, summarizeCells } from "@tourney/core/standings";
import { oncePer } from "../once-per.js";
import type { CellFacts, CellStanding } from "./wall-queries.sql.js";

export type FactsByWording = ReadonlyMap<string, readonly CellFacts[]>;
type TalliesByVersion = ReadonlyMap<string, CellTally>;
const NO_FACTS: readonly CellFacts[] = [];

// Rows of a wording that have not changed are the same array.

/** What the facts of one wording come to, by version. */
export const tallyByVersion = oncePer((facts: readonly CellFacts[]): TalliesByVersion => {
  const byVersion = groupBy(facts, ({ versionId }) => versionId);
  return new Map([...byVersion].map(([versionId, own]) => [versionId, tallyCells(own)]));
});

const countTakesOfOne = oncePer((facts: readonly CellFacts[]) =>
  facts.reduce((most, { takes }) => Math.max(most, takes), 1),
);

/** The highest number of a take among all cells. */
export const countTakes = (facts: FactsByWording): number =>
  [...facts.values()].reduce((most, ofWording) => Math.max(most, countTakesOfOne(ofWording)), 1);

/** Whether it works by itself: recorded without an error, and nobody helped it along. */
export const isClean = ({
  renderState,
  hasError,
  verdict,
  isHelped,
}: Omit<CellStanding, "state"> & { isHelped: boolean }) =>
  renderState === "recorded" && verdict === "ok" && !hasError && !isHelped;

/** Whether that can be told yet. */
export const isTried = ({ state, verdict, renderState }: CellStanding) =>
  state === "answered" &&
  (renderState === "recorded" || (verdict !== null && verdict !== "ok" && verdict !== "truncated"));

/** Whether the host owes it. */
const isOwed = ({ state, outcome }: CellFacts) =>
  state === "failed" || state === "cancelled" || state === "held" || outcome === "untaken";

/** Every planned place ends in a page, in none by the model's doing, or in none by the host's. What is on its way is none of these yet. */
export function tallyCells(facts: readonly CellFacts[]): CellTally {
  const totalsMs: number[] = [];
  // One literal: a sum over thousands of objects that were spread together of two took seventy times as long.
  const tally = {
    pages: 0,
    none: 0,
    owed: 0,
    clean: 0,
    tried: 0,
    costed: 0,
    costUsd: 0,
    tokens: 0,
    tokened: 0,
    timedTokens: 0,
    timedMs: 0,
    totalsMs,
  };
  for (const fact of facts) {
    if (isOwed(fact)) tally.owed += fact.cells;
    else if (fact.state === "answered" && fact.verdict !== null) tally[fact.hasPage ? "pages" : "none"] += fact.cells;
    if (isClean(fact)) tally.clean += fact.cells;
    if (isTried(fact)) tally.tried += fact.cells;
    tally.costed += fact.costed;
    tally.costUsd += fact.costUsd ?? 0;
    tally.tokens += fact.tokens;
    tally.tokened += fact.tokened;
    tally.timedTokens += fact.timedTokens;
    tally.timedMs += fact.timedMs;
    for (const ms of fact.totalsMs) totalsMs.push(ms);
  }
  return tally;
}

/**
 * Caches the figures of each version. After a change it compares the tallies of the changed wordings with the former ones, and sums up again only versions with a different tally: when one
 * cell of 100 wordings and 50 versions changes, one of 5,000 tallies does.
 */
export class FiguresByVersion {
  private facts: FactsByWording = new Map();
  /** By version, and of each by wording. */
  private readonly tallies = new Map<string, Map<string, CellTally>>();
  private readonly figures = new Map<string, CompetitorFigures>();

  /** Replaces the facts that the figures are made of. */
  follow(facts: FactsByWording): void {
    for (const wordingId of new Set([...this.facts.keys(), ...facts.keys()])) {
      const [before, now] = [this.facts.get(wordingId) ?? NO_FACTS, facts.get(wordingId) ?? NO_FACTS];
      if (before !== now) this.replace(wordingId, tallyByVersion(before), tallyByVersion(now));
    }
    this.facts = facts;
  }

  get(versionId: string): CompetitorFigures {
    const known = this.figures.get(versionId);
    if (known !== undefined) return known;
    const figures = summarizeCells([...(this.tallies.get(versionId)?.values() ?? [])]);
    this.figures.set(versionId, figures);
    return figures;
  }

  private replace(wordingId: string, before: TalliesByVersion, now: TalliesByVersion): void {
    for (const versionId of new Set([...before.keys(), ...now.keys()])) {
      const tally = now.get(versionId);
      if (isDeepStrictEqual(tally, before.get(versionId))) continue;
      this.figures.delete(versionId);
      const tallies = this.tallies.get(versionId) ?? new Map<string, CellTally>();
      this.tallies.set(versionId, tallies);
      if (tally === undefined) tallies.delete(wordingId);
      else tallies.set(wordingId, tally);
    }
  }
}
