import { Reason, type VotingReport } from "@tourney/core/contract";
import { pickNumbers } from "@tourney/core/ratings";
import type * as z from "zod";
import { type BallotEntry, readLean, signReader } from "../ballots/ballot-queries.sql.js";
import type { BallotTable, BallotTableColumns } from "../ballots/ballot-table.js";
import type { PromptRow } from "./report-queries.sql.js";

type Prompt = z.infer<typeof PromptRow>;
/** An entry, and whether its entrant is set up as it was then. */
export type Side = BallotEntry & { isPresent: boolean };

/** The ballots between entrants, in the order in which they were cast: columns, since a million objects would fill the memory. */
export interface ReportBallots extends Omit<BallotTableColumns, "at" | "signs" | "reasons"> {
  voterIds: readonly string[];
  prompts: readonly Prompt[];
  sides: readonly Side[];
  /** −2 (left by far) to 2 (right by far). */
  lean: Int8Array;
  isAutomatic: Uint8Array;
  /** By the bits of `REASONS`. */
  reasons: Uint16Array;
}

/** Every set of reasons, by its bits: as many as there are, however many ballots give them. */
export const REASONS: readonly (readonly Reason[])[] = Array.from({ length: 1 << Reason.options.length }, (_, bits) =>
  Reason.options.filter((_reason, bit) => (bits & (1 << bit)) !== 0),
);

const [readIsRated, readIsAutomatic] = [signReader("isRated"), signReader("isAutomatic")];

/** @param present versions by which entrants are set up now */
export function chooseRated(
  { voterIds, entries, columns: all }: BallotTable,
  prompts: readonly Prompt[],
  present: ReadonlySet<string>,
): ReportBallots {
  const places = new Int32Array(all.signs.length);
  let count = 0;
  for (let b = 0; b < all.signs.length; b++) if (readIsRated(all.signs[b]!) === 1) places[count++] = b;
  const [lean, isAutomatic] = [new Int8Array(count), new Uint8Array(count)];
  for (let b = 0; b < count; b++) {
    const signs = all.signs[places[b]!]!;
    lean[b] = readLean(signs);
    isAutomatic[b] = readIsAutomatic(signs);
  }
  const pick = <Name extends keyof BallotTableColumns>(name: Name): BallotTableColumns[Name] =>
    count === all.signs.length ? all[name] : pickNumbers(all[name], places.subarray(0, count));
  return {
    ...{ voter: pick("voter"), prompt: pick("prompt"), left: pick("left"), right: pick("right") },
    ...{ dwellMs: pick("dwellMs"), reasons: pick("reasons"), lean, isAutomatic, voterIds, prompts },
    sides: entries.map((entry) => ({ ...entry, isPresent: present.has(entry.versionId) })),
  };
}

const HOUR_S = 3600;
/** Of this hour and the ones before it. */
const HOURS = 24;

/** When people voted lately, in whatever contest: ballots by the hour, and those of the last sixty minutes. */
export function countHours(
  { columns: { at, signs } }: Pick<BallotTable, "columns">,
  nowS: number,
): Pick<VotingReport, "hours" | "ballotsLastHour"> {
  const first = Math.floor(nowS / HOUR_S) - HOURS + 1;
  const counts = new Int32Array(HOURS);
  let ballotsLastHour = 0;
  // The newest are last.
  for (let b = at.length - 1; b >= 0 && at[b]! >= first * HOUR_S; b--) {
    if (readIsAutomatic(signs[b]!) === 1) continue;
    counts[Math.min(HOURS - 1, Math.floor(at[b]! / HOUR_S) - first)]!++;
    if (at[b]! > nowS - HOUR_S) ballotsLastHour++;
  }
  const hours = Array.from(counts, (ballots, hour) => ({
    at: new Date((first + hour) * HOUR_S * 1000).toISOString(),
    ballots,
  }));
  return { hours: hours.filter(({ ballots }) => ballots > 0), ballotsLastHour };
}
