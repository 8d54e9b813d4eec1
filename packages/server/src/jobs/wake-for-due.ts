import type { WorkerPool } from "graphile-worker";
import type { Logger } from "pino";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { DUE_JOBS } from "./due-queries.sql.js";

const EVERY_MS = 1000;

interface WakeDeps {
  db: Pick<Database, "select">;
  log: Logger;
  /** Those that this process works on. */
  tasks: readonly string[];
  /** How many jobs at a time. */
  capacity: number;
}

/**
 * Wakes as many workers as there are jobs that may be taken. A new job wakes one by itself; a job that was put off, and one that was freed, do not. Were each worker to ask
 * for those by itself, an idle machine would answer two dozen questions a second.
 *
 * @returns what ends it
 */
export function wakeForDue(pool: Pick<WorkerPool, "nudge">, { db, log, tasks, capacity }: WakeDeps): () => void {
  let [isAsking, isOver] = [false, false];
  const timer = setInterval(() => {
    if (isAsking) return;
    isAsking = true;
    db.select(z.object({ due: z.int() }), DUE_JOBS, [tasks, capacity])
      .then(([found]) => {
        if (found!.due > 0 && !isOver) pool.nudge(found!.due);
      })
      .catch((error: unknown) => log.warn({ err: error }, "could not look for jobs that are due"))
      .finally(() => (isAsking = false));
  }, EVERY_MS);
  return () => {
    isOver = true;
    clearInterval(timer);
  };
}
