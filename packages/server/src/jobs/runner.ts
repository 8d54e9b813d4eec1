import { Logger as QueueLogger } from "graphile-worker";
import type { Pool } from "pg";
import type { Logger } from "pino";

/** The queue's own messages in our log. */
export function queueLogger(log: Logger): QueueLogger {
  return new QueueLogger((scope) => (level, message) => {
    log[(level as string) === "warning" ? "warn" : (level as "error" | "info" | "debug")](
      { scope: scope.taskIdentifier ?? scope.label },
      message,
    );
  });
}

/**
 * Frees the jobs that a killed process left locked. Safe because one server at a time runs these tasks: it is called
 * before the server takes its first job.
 */
export async function forceUnlockAll(pool: Pool, tasks: readonly string[]): Promise<void> {
  const { rows } = await pool.query<{ locked_by: string }>(
    "SELECT DISTINCT locked_by FROM graphile_worker.jobs WHERE locked_by IS NOT NULL AND task_identifier = ANY($1)",
    [tasks],
  );
  if (rows.length > 0)
    await pool.query("SELECT graphile_worker.force_unlock_workers($1)", [rows.map((row) => row.locked_by)]);
}
