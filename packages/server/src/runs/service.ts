import type { Run, RunDetail, RunInput } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";

import type { Database, Transaction } from "../db/connection.js";
import { generateJobKey } from "../generations/generate-job.js";
import type { AddJob } from "../jobs/queue.js";
import type { RunRepository } from "./repository.js";

export function createRunService({ db, runs, addJob }: { db: Database; runs: RunRepository; addJob: AddJob }) {
  async function getRun(runId: string, transaction?: Transaction): Promise<Run> {
    const run = await runs.find(runId, transaction);
    if (run) return run;
    throw new TourneyError("NOT_FOUND", {
      message: `There is no run ${runId}.`,
      reason: "It may belong to another Tourney.",
      remedy: "Open the Runs page and choose one from the list.",
    });
  }
  async function getDetail(runId: string): Promise<RunDetail> {
    const [run, failures, byEntrant] = await Promise.all([
      getRun(runId),
      runs.listFailures(runId),
      runs.listEntrantProgress(runId),
    ]);
    return { ...run, failures, byEntrant };
  }
  async function enqueue(generationIds: readonly string[], transaction: Transaction): Promise<void> {
    for (const generationId of generationIds) {
      await addJob("generate", { generationId }, { key: generateJobKey(generationId), transaction });
    }
  }
  return {
    getDetail,
    list: runs.list,
    /** Starts a run over what is missing. @throws TourneyError CONFLICT when nothing is. */
    start: (input: RunInput): Promise<Run> =>
      db.transact(async (transaction) => {
        const { runId, generationIds } = await runs.create(input, transaction);
        if (generationIds.length === 0) {
          throw new TourneyError("CONFLICT", {
            message: "There is nothing to run.",
            reason: "Every chosen cell and take has a generation already, or its entrant is reached by hand.",
            remedy: "Choose more prompts, entrants or takes; or open the run and retry what failed.",
          });
        }
        await enqueue(generationIds, transaction);
        return getRun(runId, transaction);
      }),
    async retry(runId: string): Promise<RunDetail> {
      await getRun(runId);
      await db.transact(async (transaction) => enqueue(await runs.requeue(runId, transaction), transaction));
      return getDetail(runId);
    },
    async cancel(runId: string): Promise<RunDetail> {
      await getRun(runId);
      await runs.cancel(runId);
      return getDetail(runId);
    },
  };
}
export type RunService = ReturnType<typeof createRunService>;
