import type { JudgedEntry, PromptRatings, Wall } from "@tourney/core/contract";

/** Fewer ballots than this on a prompt say little of who is best there. */
const FEWEST_BALLOTS = 5;

/** Who is best on a prompt so far, and by what that is known. */
export interface Best {
  versionId: string;
  by: "ballots" | "score sheets";
}

type OnPrompt = PromptRatings["prompts"][number]["ratings"];

/** What voters and judges have made of a wall, by its rows, columns and cells. */
export interface WallKnowledge {
  /** Of the take that is shown. */
  sheets: readonly JudgedEntry[];
  /** Score sheets of an entry. */
  sheetsOf: (entryId: string | null) => readonly JudgedEntry[];
  ratingOf: (versionId: string) => number | null;
  /** Ratings on a prompt of all that have enough ballots there. */
  ratingsOn: (promptId: string) => OnPrompt;
  /** How far the best and the worst on a prompt are apart, in rating points; null where fewer than two are rated. */
  spreadOf: (promptId: string) => number | null;
  /** The best on a prompt so far, by ballots, else by score sheets. */
  bestOf: (promptId: string) => Best | null;
  /** The best of those that cost nothing. */
  bestForNothingOf: (promptId: string) => Best | null;
  /** Lowest and highest rating on any prompt, so that rows are drawn on one scale. */
  range: readonly [low: number, high: number] | null;
}

export function knowWall(
  entrants: Wall["entrants"],
  sheets: readonly JudgedEntry[],
  ratings: PromptRatings | undefined,
): WallKnowledge {
  const byEntry = groupBy(sheets, ({ entryId }) => entryId);
  const byPrompt = groupBy(sheets, ({ promptId }) => promptId);
  const overall = new Map(ratings?.overall.map(({ versionId, rating }) => [versionId, rating]));
  const onPrompt = new Map(
    ratings?.prompts.map(({ promptId, ratings: all }) => [
      promptId,
      all.filter(({ ballots }) => ballots >= FEWEST_BALLOTS).toSorted((a, b) => b.rating - a.rating),
    ]),
  );
  const ratingsOn = (promptId: string) => onPrompt.get(promptId) ?? [];
  const free = new Set(
    entrants.filter(({ costPerEntryUsd }) => costPerEntryUsd === 0).map(({ version }) => version.id),
  );
  const findBest = (promptId: string, counts: (versionId: string) => boolean): Best | null => {
    const rated = ratingsOn(promptId).find(({ versionId }) => counts(versionId));
    if (rated !== undefined) return { versionId: rated.versionId, by: "ballots" };
    const judged = (byPrompt.get(promptId) ?? []).filter(
      ({ versionId, verdict }) => verdict !== null && counts(versionId),
    );
    const best = judged.toSorted((a, b) => worthOf(b) - worthOf(a))[0];
    return best === undefined || best.verdict === "fail" ? null : { versionId: best.versionId, by: "score sheets" };
  };
  const all = [...onPrompt.values()].flat().map(({ rating }) => rating);
  return {
    sheets,
    sheetsOf: (entryId) => (entryId === null ? [] : (byEntry.get(entryId) ?? [])),
    ratingOf: (versionId) => overall.get(versionId) ?? null,
    ratingsOn,
    spreadOf: (promptId) => {
      const own = ratingsOn(promptId);
      return own.length < 2 ? null : own[0]!.rating - own.at(-1)!.rating;
    },
    bestOf: (promptId) => findBest(promptId, () => true),
    bestForNothingOf: (promptId) => (free.size === 0 ? null : findBest(promptId, (id) => free.has(id))),
    range: all.length < 2 ? null : [Math.min(...all), Math.max(...all)],
  };
}

const VERDICT_WORTH = { pass: 2, part: 1, fail: 0 } as const;

/** Verdicts first, marks between equal ones. */
const worthOf = ({ verdict, marks }: JudgedEntry) =>
  (verdict === null ? -1 : VERDICT_WORTH[verdict]) * 100 + (marks ?? 0);

function groupBy<T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) groups.set(keyOf(item), [...(groups.get(keyOf(item)) ?? []), item]);
  return groups;
}
