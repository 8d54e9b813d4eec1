import type { DispatchJob, ExtractJob, GenerateJob, RenderFinishedJob, RenderJob } from "@tourney/core/contract";

import type * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { toJson } from "../db/storable.js";

/** The jobs of the queue by name, with what each carries. */
interface Jobs {
  dispatch: z.infer<typeof DispatchJob>;
  generate: z.infer<typeof GenerateJob>;
  extract: z.infer<typeof ExtractJob>;
  render: RenderJob;
  "render-finished": RenderFinishedJob;
}

interface AddJobOptions {
  /** Two jobs of one key are one job: adding replaces what waits. */
  key: string;
  runAt?: Date;
  /** Of the jobs that are due the one with the lowest comes first; 0 if absent. */
  priority?: number;
  transaction?: Transaction;
}

export type AddJob = <Name extends keyof Jobs>(
  name: Name,
  payload: Jobs[Name],
  options: AddJobOptions,
) => Promise<void>;

/** Adds jobs through the caller's own transaction, so that a job exists exactly when what it is about does. */
export function createAddJob(db: Database): AddJob {
  return async (name, payload, { key, runAt, priority, transaction }) => {
    await db.execute(
      "SELECT graphile_worker.add_job($1, $2::json, run_at := $3, job_key := $4, priority := $5)",
      [name, toJson(payload), runAt ?? new Date(), key, priority ?? 0],
      transaction,
    );
  };
}
