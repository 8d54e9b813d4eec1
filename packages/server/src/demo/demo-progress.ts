import type { DemoProgress } from "@tourney/core/contract";
import type { DemoRepository } from "./demo-repository.js";
import type { RowProgress } from "./demo-queries.sql.js";

/** Made-up voters of the demo, and how many ballots each may cast. */
export const SAMPLE_VOTERS = 60;
export const SAMPLE_QUOTA = 27;
/** How many there are to be when all is made. */
export const SAMPLE_BALLOTS = 1560;
/** Entries that a row needs before people vote on it: most of its entrants. */
const LEAST_IN_ROW = 5;
/** Sample voters need about this long for what is left of their ballots once all is recorded. */
const BALLOTS_A_SECOND = 15;

/** A row can be voted on when nothing more is to come of it, or most of its first shots are recorded. */
export const isVotable = ({ toRecord, recorded, open }: RowProgress): boolean =>
  recorded >= LEAST_IN_ROW && (open === 0 || recorded >= toRecord - 1);

/** Most ballots that may be cast now: a share of all ballots, in proportion to the rows that are ready. */
export function countAllowed(rows: readonly RowProgress[]): number {
  const ready = rows.filter(isVotable).length;
  return ready < Math.min(2, rows.length) ? 0 : Math.floor((SAMPLE_BALLOTS * ready) / rows.length);
}

/** How far the demo's sample data are; null where there are none, and when all is there. */
export async function readProgress(demo: DemoRepository): Promise<DemoProgress | null> {
  const run = await demo.findSampleRun();
  if (run === null) return null;
  const rows = await demo.listRows(run.runId);
  const sum = (count: (row: RowProgress) => number) => rows.reduce((total, row) => total + count(row), 0);
  const [toRecord, recorded, open] = [sum((row) => row.toRecord), sum((row) => row.recorded), sum((row) => row.open)];
  const ballots = Math.min(run.ballots, SAMPLE_BALLOTS);
  if (open === 0 && recorded >= toRecord && ballots >= SAMPLE_BALLOTS) return null;
  const pace = run.recordingsPerSecond ?? 0;
  const recordingSeconds = pace === 0 ? null : (toRecord - recorded + open) / pace;
  return {
    rows: rows.length,
    rowsReady: rows.filter(isVotable).length,
    toRecord,
    recorded,
    ballots,
    ballotsPlanned: SAMPLE_BALLOTS,
    remainingSeconds:
      recorded >= toRecord && open === 0 ? (SAMPLE_BALLOTS - ballots) / BALLOTS_A_SECOND : recordingSeconds,
  };
}
