import { Failure, Run, RunCounts, type RunInput } from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate, isoDateOrNull } from "../db/row.js";

const RunRow = z
  .object({ ...Run.omit({ counts: true }).shape, ...RunCounts.shape, createdAt: isoDate, cancelledAt: isoDateOrNull })
  .transform(({ total, queued, running, answered, failed, cancelled, recorded, toRecord, ...run }) => ({
    ...run,
    counts: { total, queued, running, answered, failed, cancelled, recorded, toRecord },
  }));

const inState = (state: string) => `count(*) FILTER (WHERE g.state = '${state}')::int AS ${state}`;
const SELECT = `
  SELECT r.id, r.edition_id AS "editionId", r.number, r.takes, r.created_at AS "createdAt", r.cancelled_at AS "cancelledAt",
    count(g.id)::int AS total, ${["queued", "running", "answered", "failed", "cancelled"].map(inState).join(", ")},
    coalesce(sum(g.cost_usd), 0) AS "costUsd",
    coalesce(sum((g.usage->>'inputTokens')::int), 0)::int AS "inputTokens",
    coalesce(sum((g.usage->>'outputTokens')::int), 0)::int AS "outputTokens",
    count(e.id) FILTER (WHERE e.entry_path IS NOT NULL)::int AS "toRecord",
    count(e.id) FILTER (WHERE EXISTS (SELECT FROM renders v WHERE v.entry_id = e.id AND v.state <> 'queued'))::int AS recorded
  FROM runs r LEFT JOIN generations g ON g.run_id = r.id LEFT JOIN entries e ON e.generation_id = g.id AND e.mend_round = 0`;

const FailureRow = z
  .object({
    generationId: z.uuid(),
    promptTitle: z.string(),
    entrantName: z.string(),
    take: z.int(),
    attempts: z.int(),
    failures: z.array(Failure),
  })
  .transform(({ failures, ...row }) => ({ ...row, failure: failures.at(-1)! }));

const EntrantProgressRow = z.object({
  entrantId: z.uuid(),
  name: z.string(),
  glyph: z.int(),
  answered: z.int(),
  total: z.int(),
  costUsd: z.number(),
  medianTotalMs: z.number().nullable(),
});

export function createRunRepository(db: Database) {
  const id = z.object({ id: z.uuid() });
  return {
    list: (editionId: string) =>
      db.select(RunRow, `${SELECT} WHERE r.edition_id = $1 GROUP BY r.id ORDER BY r.number DESC`, [editionId]),
    async find(runId: string, transaction?: Transaction) {
      const [run] = await db.select(RunRow, `${SELECT} WHERE r.id = $1 GROUP BY r.id`, [runId], transaction);
      return run ?? null;
    },
    /** Makes a run of the cells and takes that have no generation yet, or a cancelled one; resolves with its id and the new generations' ids. */
    async create({ editionId, promptIds, entrantIds, takes }: RunInput, transaction: Transaction) {
      // The edition's row lock makes two plans take turns, so that run numbers have no gaps.
      await db.execute("SELECT FROM editions WHERE id = $1 FOR NO KEY UPDATE", [editionId], transaction);
      const [run] = await db.select(
        id,
        `INSERT INTO runs (edition_id, number, takes)
         SELECT $1, coalesce(max(number), 0) + 1, $2 FROM runs WHERE edition_id = $1 RETURNING id`,
        [editionId, takes],
        transaction,
      );
      const generations = await db.select(
        id,
        `INSERT INTO generations (run_id, prompt_id, entrant_id, take, state, requested_model)
         SELECT $1, q.id, n.id, take, 'queued', n.model
         FROM prompts q, entrants n JOIN endpoints p ON p.id = n.endpoint_id, generate_series(1, $2) take
         WHERE q.edition_id = $3 AND q.id = ANY($4::uuid[]) AND n.id = ANY($5::uuid[]) AND p.protocol <> 'by-hand'
         ORDER BY take, q.position, n.created_at
         ON CONFLICT (prompt_id, entrant_id, take) DO UPDATE SET run_id = excluded.run_id, state = 'queued', attempts = 0
           WHERE generations.state = 'cancelled' RETURNING id`,
        [run!.id, takes, editionId, promptIds, entrantIds],
        transaction,
      );
      return { runId: run!.id, generationIds: generations.map((row) => row.id) };
    },
    /** Makes the run's failed and cancelled generations wait again; resolves with their ids. */
    async requeue(runId: string, transaction: Transaction): Promise<string[]> {
      await db.execute("UPDATE runs SET cancelled_at = NULL WHERE id = $1", [runId], transaction);
      const rows = await db.select(
        id,
        "UPDATE generations SET state = 'queued', attempts = 0 WHERE run_id = $1 AND state IN ('failed', 'cancelled') RETURNING id",
        [runId],
        transaction,
      );
      return rows.map((row) => row.id);
    },
    /** Cancels what waits; what is being sent is let finish. */
    async cancel(runId: string): Promise<void> {
      await db.transact(async (transaction) => {
        await db.execute("UPDATE runs SET cancelled_at = now() WHERE id = $1", [runId], transaction);
        await db.execute(
          "UPDATE generations SET state = 'cancelled' WHERE run_id = $1 AND state = 'queued'",
          [runId],
          transaction,
        );
      });
    },
    listFailures: (runId: string) =>
      db.select(
        FailureRow,
        `SELECT g.id AS "generationId", q.content->>'title' AS "promptTitle", n.name AS "entrantName", g.take, g.attempts, g.failures
         FROM generations g JOIN prompts q ON q.id = g.prompt_id JOIN entrants n ON n.id = g.entrant_id
         WHERE g.run_id = $1 AND g.state IN ('failed', 'queued') AND g.failures <> '[]' ORDER BY n.name, q.position, g.take LIMIT 500`,
        [runId],
      ),
    listEntrantProgress: (runId: string) =>
      db.select(
        EntrantProgressRow,
        `SELECT n.id AS "entrantId", n.name, n.glyph, count(*)::int AS total, count(*) FILTER (WHERE g.state = 'answered')::int AS answered,
           coalesce(sum(g.cost_usd), 0) AS "costUsd",
           percentile_cont(0.5) WITHIN GROUP (ORDER BY (g.timings->>'totalMs')::float) AS "medianTotalMs"
         FROM generations g JOIN entrants n ON n.id = g.entrant_id WHERE g.run_id = $1 GROUP BY n.id ORDER BY n.created_at`,
        [runId],
      ),
  };
}
export type RunRepository = ReturnType<typeof createRunRepository>;
