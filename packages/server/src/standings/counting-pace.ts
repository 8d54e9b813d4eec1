import { restAfter } from "../at-pace.js";
import type { Count } from "./counting/count-ballots.js";

/**
 * After a count the next one waits fourteen times as long as it took of the processor: counting and telling pages of it should take less than a tenth of a core. It never waits
 * longer than eight seconds: with the count itself, which may take a second or two, pages are told within ten.
 */
export const COUNTING_PACE = { slowMs: 1, times: 14, longestMs: 8000 };

/** Fewer are counted in some 20 ms of processor, each time that somebody asks. The first counts after a start cost ten times as much, and say nothing of the next ones. */
const FEW_BALLOTS = 10_000;

interface OneCount {
  counted: Pick<Count["counted"], "ballots">;
  cpuMs: number;
}

/** What the next count waits for: milliseconds of processor, none where there are few ballots. */
export const costOf = ({ cpuMs, counted }: OneCount): number => (counted.ballots < FEW_BALLOTS ? 0 : cpuMs);

/** For how many milliseconds ballots are not counted again after they were, whoever asks for standings. */
export const restOfCount = (count: OneCount): number => restAfter(costOf(count), COUNTING_PACE);
