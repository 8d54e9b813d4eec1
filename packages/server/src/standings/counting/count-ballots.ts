import { createHash } from "node:crypto";
import type { PromptRatings, Standing } from "@tourney/core/contract";
import { type BallotColumns, rateBallots, RATING_METHOD_VERSION, sortBallots } from "@tourney/core/ratings";
import {
  type Competitor,
  type Counted,
  describePrompts,
  describeStandings,
  findSuccession,
  type Rated,
  type RatedPrompt,
} from "@tourney/core/standings";
import type { SelectedBallots } from "./ballot-columns.js";
import type { BallotReader } from "./ballot-reader.js";

/** Whose ballots are counted, on which wordings. */
export interface CountOrder {
  wordingIds: readonly string[];
  competitors: readonly Pick<Competitor, "entrant" | "version">[];
}

/** What the ballots of one order come to. */
export interface Count {
  /** Without the figures of the competitors' cells, which come from elsewhere. */
  counted: Omit<Counted, "rows"> & { rows: Omit<Standing, keyof Figures>[] };
  fit: Rated["fit"];
  /** Names the ballots and the method: equal digests, equal ratings. */
  digest: string;
  /** By panel, the one with the first ballot first; times in milliseconds since 1970. */
  sources: { panelId: string; ballots: number; unseen: number; firstAt: number; lastAt: number }[];
  countedAt: string;
  /** Milliseconds of processor that it took to read what had changed, and to count; without what is read once. */
  cpuMs: number;
}
type Figures = Omit<Competitor, "entrant" | "version">;

export interface CountedOrder extends Omit<Count, "cpuMs"> {
  rated: Rated;
}

/** Counts what a reader holds. Pure, so that the same ballots come to the same figures whatever order they came in. */
export function countOrder(reader: BallotReader, { wordingIds, competitors }: CountOrder): CountedOrder {
  const voterIds = reader.voters
    .map((voter, number) => ({ ...voter, number }))
    .sort((a, b) => a.createdAt - b.createdAt || (a.id < b.id ? -1 : 1));
  const voterOf = new Int32Array(reader.voters.length);
  voterIds.forEach(({ number }, place) => (voterOf[number] = place));
  const ballots = reader.ballots.select({
    voterOf,
    promptOf: numberBy(reader.wordings.ids, wordingIds),
    competitorOf: numberBy(
      reader.versions.ids,
      competitors.map(({ version }) => version.id),
    ),
  });
  // Both the ratings and the digest want them in order: they are sorted once.
  const sorted = sortBallots(ballots);
  const rated: Rated = {
    ...rateBallots(competitors.length, sorted, { pairs: findSuccession(competitors) }),
    counts: { ...ballots, cluster: ballots.prompt, n: new Uint8Array(ballots.outcome.length).fill(1) },
  };
  let samples = 0;
  for (const voter of ballots.voter) if (voterIds[voter]!.sample) samples++;
  return {
    rated,
    // Figures are added by whoever knows them; none of them is read here.
    counted: describeStandings(competitors as readonly Competitor[], rated, samples),
    fit: rated.fit,
    digest: digest(sorted, { voters: voterIds.map(({ id }) => id), wordingIds, competitors }),
    sources: listSources(
      ballots,
      voterIds.map(({ panelId }) => panelId),
    ),
    countedAt: new Date().toISOString(),
  };
}

/** Ratings on each prompt, and on the prompts of each kind and tag. Prompts are those of the order, in its order. */
export const countPrompts = (
  { rated }: CountedOrder,
  { competitors }: CountOrder,
  prompts: readonly RatedPrompt[],
): PromptRatings => describePrompts(competitors, rated, prompts);

/** By the place in `all` the place in `some`, −1 for what is not there. */
function numberBy(all: readonly string[], some: readonly string[]): Int32Array {
  const places = new Map(some.map((id, place) => [id, place]));
  return Int32Array.from(all, (id) => places.get(id) ?? -1);
}

/** SHA-256 of the ballots that count, in order, by the ids of voters, wordings and versions, and of the method. */
function digest(
  ballots: BallotColumns,
  { voters, wordingIds, competitors }: { voters: readonly string[] } & CountOrder,
): string {
  const hash = createHash("sha256").update(RATING_METHOD_VERSION);
  // Of whoever and whatever no ballot names nothing is told, so that they change nothing.
  const tell = (columns: readonly ArrayLike<number>[], ids: readonly string[]): Int32Array[] => {
    const isUsed = new Uint8Array(ids.length);
    const use = (column: ArrayLike<number>) => {
      for (let b = 0; b < column.length; b++) isUsed[column[b]!] = 1;
    };
    columns.forEach(use);
    const placeOf = new Int32Array(ids.length);
    let place = 0;
    for (const [number, id] of ids.entries()) {
      if (isUsed[number] === 0) continue;
      placeOf[number] = place++;
      hash.update(` ${id}`);
    }
    hash.update("\n");
    return columns.map((column) => {
      const renumbered = new Int32Array(column.length);
      for (let b = 0; b < column.length; b++) renumbered[b] = placeOf[column[b]!]!;
      return renumbered;
    });
  };
  const told = [
    ...tell([ballots.voter], voters),
    ...tell([ballots.prompt], wordingIds),
    ...tell(
      [ballots.left, ballots.right],
      competitors.map(({ version }) => version.id),
    ),
  ];
  for (const column of [...told, ballots.outcome]) hash.update(new Int32Array(column));
  return hash.digest("hex");
}

function listSources({ voter, isUnseen, at }: SelectedBallots, panelOf: readonly string[]): Count["sources"] {
  const found = new Map<string, Count["sources"][number]>();
  for (let b = 0; b < voter.length; b++) {
    const panelId = panelOf[voter[b]!]!;
    let of = found.get(panelId);
    if (of === undefined) {
      of = { panelId, ballots: 0, unseen: 0, firstAt: Infinity, lastAt: -Infinity };
      found.set(panelId, of);
    }
    of.ballots++;
    of.unseen += isUnseen[b]!;
    of.firstAt = Math.min(of.firstAt, at[b]!);
    of.lastAt = Math.max(of.lastAt, at[b]!);
  }
  return [...found.values()].sort((a, b) => a.firstAt - b.firstAt);
}
