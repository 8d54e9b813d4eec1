import type { PromptRatings, Standings, StandingsBasis, WhatCounts } from "../contract/index.js";
import { makeNumbers, type Numbers, PRODUCT_OPTIONS, rateBallots } from "../ratings/index.js";
import { type CellTally, summarizeCells } from "./cell-tally.js";
import {
  type Competitor,
  describePromptsInSteps,
  describeStandings,
  findSuccession,
  type Rated,
} from "./describe-standings.js";
import type { BasisInColumns } from "./parted-basis.js";

/** Signs of one ballot, added up in `marks`. */
export const MARKS = {
  leftWorks: 1,
  rightWorks: 2,
  leftShowsNothing: 4,
  rightShowsNothing: 8,
  leftHasNoPage: 16,
  rightHasNoPage: 32,
  isUnseen: 64,
} as const;

/** A basis made ready for being counted many times. */
export interface PreparedBasis extends Omit<StandingsBasis, "ballots" | "cells"> {
  ballots: BasisInColumns["ballots"];
  /** By competitor; each with the prompt it is of. */
  cells: (CellTally & { prompt: number })[][];
}

export function prepareBasis({ ballots, cells, ...basis }: BasisInColumns): PreparedBasis {
  const byCompetitor: PreparedBasis["cells"] = basis.competitors.map(() => []);
  cells.competitor.forEach((competitor, row) => {
    const { prompt, pages, none, owed, clean, tried, costed, costUsd, totalsMs } = cells;
    const { tokens, tokened, timedTokens, timedMs } = cells;
    byCompetitor[competitor]!.push({
      prompt: prompt[row]!,
      pages: pages[row]!,
      none: none[row]!,
      owed: owed[row]!,
      clean: clean[row]!,
      tried: tried[row]!,
      costed: costed[row]!,
      costUsd: costUsd[row]!,
      ...{ tokens: tokens[row]!, tokened: tokened[row]! },
      ...{ timedTokens: timedTokens[row]!, timedMs: timedMs[row]! },
      totalsMs: totalsMs[row]!,
    });
  });
  return {
    ...basis,
    cells: byCompetitor,
    ballots: {
      prompt: toColumn(ballots.prompt),
      voter: toColumn(ballots.voter),
      left: toColumn(ballots.left),
      right: toColumn(ballots.right),
      lean: toColumn(ballots.lean),
      at: toColumn(ballots.at),
      marks: toColumn(ballots.marks),
    },
  };
}

/** What came over the wire is in lists; what is in columns already stays in them. */
const toColumn = (numbers: ArrayLike<number>): ArrayLike<number> =>
  Array.isArray(numbers) ? Int32Array.from(numbers) : numbers;

const DAY_S = 86_400;
const BY_FAR = 2;
/** A ballot that does not count. */
const NOT_COUNTED = Number.NaN;

/** Where something is chosen, places of a list that are chosen; where nothing is, all. */
const chosen = <T>(items: readonly T[], isChosen: (item: T) => boolean): Uint8Array =>
  Uint8Array.from(items, (item) => Number(isChosen(item)));

const isAmong = <T>(list: readonly T[], value: T) => list.length === 0 || list.includes(value);

/** Which prompts count: 1 or 0 for each. */
export const choosePrompts = (
  prompts: readonly Pick<StandingsBasis["prompts"][number], "key" | "kind" | "tags" | "isVariant">[],
  counts: WhatCounts,
): Uint8Array =>
  chosen(
    prompts,
    ({ key, kind, tags, isVariant }) =>
      isAmong(counts.kind, kind) &&
      isAmong(counts.prompt, key) &&
      (counts.tag.length === 0 || tags.some((tag) => counts.tag.includes(tag))) &&
      !(isVariant && counts.variants === "out"),
  );

/**
 * Whether and how each ballot counts.
 *
 * @returns a function of a ballot's place: its lean, −2 to 2, or NaN where it does not count.
 */
export function judgeBallots(basis: PreparedBasis, counts: WhatCounts): (ballot: number) => number {
  const { prompts, voters, panels, competitors, ballots } = basis;
  const promptCounts = choosePrompts(prompts, counts);
  const panelCounts = chosen(panels, ({ id }) => isAmong(counts.panel, id));
  const without = new Set(counts.without);
  const voterCounts = chosen(voters, ({ id, panel }) => panelCounts[panel] === 1 && !without.has(id));
  const competes = chosen(competitors, ({ version }) => version.isPresent || counts.versions === "all");
  const from = counts.from === undefined ? -Infinity : Date.parse(counts.from) / 1000;
  const until = counts.to === undefined ? Infinity : Date.parse(counts.to) / 1000 + DAY_S;
  return (ballot) => {
    const at = ballots.at[ballot]!;
    if (promptCounts[ballots.prompt[ballot]!] === 0 || voterCounts[ballots.voter[ballot]!] === 0) return NOT_COUNTED;
    if (competes[ballots.left[ballot]!] === 0 || competes[ballots.right[ballot]!] === 0) return NOT_COUNTED;
    if (at < from || at >= until) return NOT_COUNTED;
    return leanOf(ballots.lean[ballot]!, ballots.marks[ballot]!, counts);
  };
}

/** How a ballot leans by the rules for what shows nothing and for what was not delivered. */
function leanOf(lean: number, marks: number, { broken, undelivered }: WhatCounts): number {
  const isUndelivered = (marks & (MARKS.leftHasNoPage | MARKS.rightHasNoPage)) !== 0;
  if (isUndelivered) return undelivered === "leave_out" ? NOT_COUNTED : lean;
  const [left, right] = [(marks & MARKS.leftShowsNothing) !== 0, (marks & MARKS.rightShowsNothing) !== 0];
  if (broken === "as_voted" || !(left || right)) return lean;
  // Two that show nothing are not told apart by a rule.
  if (broken === "leave_out" || (left && right)) return NOT_COUNTED;
  return left ? BY_FAR : -BY_FAR;
}

/** The ballots of a basis that count, as columns, with the competitors renumbered to those that compete. */
function selectBallots(basis: PreparedBasis, counts: WhatCounts) {
  const { ballots, competitors } = basis;
  const leanOfBallot = judgeBallots(basis, counts);
  const competing = [...competitors.keys()].filter(
    (index) => counts.versions === "all" || competitors[index]!.version.isPresent,
  );
  const numberOf = new Int32Array(competitors.length);
  competing.forEach((index, number) => (numberOf[index] = number));
  const most = ballots.lean.length;
  const kept = {
    place: new Int32Array(most),
    voter: makeNumbers(most, basis.voters.length),
    prompt: makeNumbers(most, basis.prompts.length),
    left: makeNumbers(most, competing.length),
    right: makeNumbers(most, competing.length),
    outcome: makeNumbers(most, PRODUCT_OPTIONS.K + 1),
  };
  const failures = new Int32Array(competing.length);
  let n = 0;
  for (let ballot = 0; ballot < most; ballot++) {
    const lean = leanOfBallot(ballot);
    if (Number.isNaN(lean)) continue;
    const marks = ballots.marks[ballot]!;
    kept.place[n] = ballot;
    kept.voter[n] = ballots.voter[ballot]!;
    kept.prompt[n] = ballots.prompt[ballot]!;
    kept.left[n] = numberOf[ballots.left[ballot]!]!;
    kept.right[n] = numberOf[ballots.right[ballot]!]!;
    // Lean −2 (left by far) … 2 (right by far) is outcome 1 … 5.
    kept.outcome[n] = lean + 3;
    if ((marks & MARKS.leftWorks) === 0) failures[kept.left[n]!]!++;
    if ((marks & MARKS.rightWorks) === 0) failures[kept.right[n]!]!++;
    n++;
  }
  const cut = (column: Numbers) => column.subarray(0, n);
  return {
    ...{ competing, failures },
    ballots: {
      ...{ place: kept.place.subarray(0, n), voter: cut(kept.voter), prompt: cut(kept.prompt), left: cut(kept.left) },
      ...{ right: cut(kept.right), outcome: cut(kept.outcome) },
    },
  };
}

/**
 * The standings of the ballots of a basis that count: at the cost of all of them, some tens of milliseconds for a hundred thousand. What they come to on each prompt
 * takes longer and is computed step by step when it is asked for.
 */
export function countBasis(
  basis: PreparedBasis,
  counts: WhatCounts,
): { standings: Standings; ratePrompts: () => Generator<undefined, PromptRatings> } {
  const { competing, ballots, failures } = selectBallots(basis, counts);
  const promptCounts = choosePrompts(basis.prompts, counts);
  const competitors = competing.map((index): Competitor => {
    const cells = basis.cells[index]!.filter(({ prompt }) => promptCounts[prompt] === 1);
    return { ...basis.competitors[index]!, ...summarizeCells(cells) };
  });
  const rated: Rated = {
    ...rateBallots(competitors.length, ballots, { pairs: findSuccession(competitors) }),
    failures,
  };
  let sampleBallots = 0;
  for (const voter of ballots.voter) if (basis.voters[voter]!.sample) sampleBallots++;
  return {
    standings: {
      edition: basis.edition,
      counts,
      ...describeStandings(competitors, rated, sampleBallots),
      sources: listSources(basis, ballots.place),
      formerVersions: basis.formerVersions,
      setAside: basis.setAside,
      countedAt: basis.readAt,
    },
    ratePrompts: () => {
      const own = [...promptCounts.keys()].filter((prompt) => promptCounts[prompt] === 1);
      const placeOf = new Int32Array(basis.prompts.length);
      own.forEach((prompt, place) => (placeOf[prompt] = place));
      const prompts = own.map((prompt) => ({ ...basis.prompts[prompt]!, promptId: basis.prompts[prompt]!.id }));
      const cluster = ballots.prompt.map((prompt) => placeOf[prompt]!);
      const one = new Uint8Array(cluster.length).fill(1);
      const { fit, ratings } = rated;
      const counted = { fit, ratings, counts: { ...ballots, cluster, n: one } };
      return describePromptsInSteps(competitors, counted, prompts);
    },
  };
}

/** The panels that ballots come from, the one with the first ballot first. */
function listSources({ panels, voters, ballots }: PreparedBasis, places: Int32Array): Standings["sources"] {
  const found = panels.map(() => ({ ballots: 0, unseen: 0, first: Infinity, last: -Infinity }));
  for (const place of places) {
    const of = found[voters[ballots.voter[place]!]!.panel]!;
    const at = ballots.at[place]!;
    of.ballots++;
    if ((ballots.marks[place]! & MARKS.isUnseen) !== 0) of.unseen++;
    of.first = Math.min(of.first, at);
    of.last = Math.max(of.last, at);
  }
  const instant = (seconds: number) => new Date(seconds * 1000).toISOString();
  return panels
    .map((panel, index) => ({ panel, ...found[index]! }))
    .filter((one) => one.ballots > 0)
    .toSorted((a, b) => a.first - b.first)
    .map(({ panel: { id, ...panel }, first, last, ...counted }) => ({
      panelId: id,
      ...panel,
      ...counted,
      firstAt: instant(first),
      lastAt: instant(last),
    }));
}
