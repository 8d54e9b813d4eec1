import type { Standing } from "../contract/index.js";
import { median } from "../stats/index.js";

/** The first shots of a competitor on some prompts, counted: each planned place ends in a page, in none by the model's doing, or is owed by the host. */
export interface CellTally {
  pages: number;
  none: number;
  owed: number;
  /** Recorded without an error finding and without help by hand. */
  clean: number;
  /** What came back and could be told clean or not. */
  tried: number;
  /** Those whose cost is known, and their cost together. */
  costed: number;
  costUsd: number;
  /** Output tokens of those that told them, and how many those are. */
  tokens: number;
  tokened: number;
  /** The same of those whose time is known, too, and their time together. */
  timedTokens: number;
  timedMs: number;
  /** How long those took whose time is known. */
  totalsMs: readonly number[];
}

/** What standings say of a competitor apart from its rating. */
export type CompetitorFigures = Pick<
  Standing,
  "delivery" | "cleanShare" | "costPerEntryUsd" | "medianTotalMs" | "tokensPerEntry" | "tokensPerSecond"
>;

/** The figures of a competitor's first shots. */
export function summarizeCells(tallies: readonly CellTally[]): CompetitorFigures {
  const delivery = { pages: 0, none: 0, owed: 0 };
  let [clean, tried, costed, costUsd] = [0, 0, 0, 0];
  let [tokens, tokened, timedTokens, timedMs] = [0, 0, 0, 0];
  const totalsMs: number[] = [];
  for (const tally of tallies) {
    delivery.pages += tally.pages;
    delivery.none += tally.none;
    delivery.owed += tally.owed;
    clean += tally.clean;
    tried += tally.tried;
    costed += tally.costed;
    costUsd += tally.costUsd;
    tokens += tally.tokens;
    tokened += tally.tokened;
    timedTokens += tally.timedTokens;
    timedMs += tally.timedMs;
    for (const ms of tally.totalsMs) totalsMs.push(ms);
  }
  return {
    delivery,
    cleanShare: tried === 0 ? null : clean / tried,
    costPerEntryUsd: costed === 0 ? null : costUsd / costed,
    medianTotalMs: median(totalsMs),
    tokensPerEntry: tokened === 0 ? null : tokens / tokened,
    tokensPerSecond: timedMs === 0 ? null : (timedTokens / timedMs) * 1000,
  };
}
