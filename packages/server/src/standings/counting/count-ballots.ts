import { createHash } from "node:crypto";
import type { PromptRatings, Standing } from "@tourney/core/contract";
import {
  type BallotColumns,
  rateSorted,
  type RatingFit,
  RATING_METHOD_VERSION,
  type Ratings,
} from "@tourney/core/ratings";
import {
  type Competitor,
  type Counted,
  describePrompts,
  describeStandings,
  findSuccession,
  type RatedPrompt,
} from "@tourney/core/standings";
import { type CountedPart, type CountOrder, JoinedBallots } from "./ordered-ballots.js";

/** What the ballots of one order come to. */
export interface Count {
  /** Without the figures of the competitors' cells, which come from elsewhere. */
  counted: Omit<Counted, "rows"> & { rows: Omit<Standing, keyof Figures>[] };
  fit: RatingFit;
  /** Names the ballots and the method: equal digests, equal ratings. */
  digest: string;
  /** By panel, the one with the first ballot first; times in seconds since 1970. */
  sources: { panelId: string; ballots: number; unseen: number; firstAt: number; lastAt: number }[];
  countedAt: string;
  /** Milliseconds of processor that it took to read what had changed, and to count; without what is read once. */
  cpuMs: number;
}
type Figures = Omit<Competitor, "entrant" | "version">;

export interface CountedOrder extends Omit<Count, "cpuMs"> {
  ballots: BallotColumns;
  ratings: Ratings;
}

/**
 * Counts the ballots of an order: the same ones come to the same figures whatever order they came in.
 *
 * @param joined where the count before had its ballots, which ratings on each prompt cannot be made of any more.
 */
export function countOrder(
  parts: readonly CountedPart[],
  order: CountOrder,
  joined = new JoinedBallots(order),
): CountedOrder {
  const { competitors } = order;
  const ballots = joined.join(parts);
  const failures = new Int32Array(competitors.length);
  let samples = 0;
  for (const { voter, failed, outcome } of parts) {
    for (const competitor of failed) failures[competitor]!++;
    if (voter.sample) samples += outcome.length;
  }
  const rated = rateSorted(competitors.length, ballots, { pairs: findSuccession(competitors) });
  return {
    ...{ ballots, ratings: rated.ratings },
    // Figures are added by whoever knows them; none of them is read here.
    counted: describeStandings(competitors as readonly Competitor[], { ...rated, failures }, samples),
    fit: rated.fit,
    digest: digest(parts),
    sources: listSources(parts),
    countedAt: new Date().toISOString(),
  };
}

/** Ratings on each prompt, and on the prompts of each kind and tag. Prompts are those of the order, in its order. */
export const countPrompts = (
  { ballots, fit, ratings }: CountedOrder,
  { competitors }: CountOrder,
  prompts: readonly RatedPrompt[],
): PromptRatings => {
  const n = new Uint8Array(ballots.outcome.length).fill(1);
  return describePrompts(competitors, { fit, ratings, counts: { ...ballots, cluster: ballots.prompt, n } }, prompts);
};

/** SHA-256 of the method and of each voter's ballots. */
function digest(parts: readonly CountedPart[]): string {
  const hash = createHash("sha256").update(RATING_METHOD_VERSION);
  for (const { voter, digest: own } of parts) hash.update(`\n${voter.id} ${own}`);
  return hash.digest("hex");
}

function listSources(parts: readonly CountedPart[]): Count["sources"] {
  const found = new Map<string, Count["sources"][number]>();
  for (const { voter, outcome, unseen, firstAt, lastAt } of parts) {
    const { panelId } = voter;
    const of = found.get(panelId) ?? { panelId, ballots: 0, unseen: 0, firstAt: Infinity, lastAt: -Infinity };
    found.set(panelId, of);
    of.ballots += outcome.length;
    of.unseen += unseen;
    of.firstAt = Math.min(of.firstAt, firstAt);
    of.lastAt = Math.max(of.lastAt, lastAt);
  }
  return [...found.values()].sort((a, b) => a.firstAt - b.firstAt);
}
