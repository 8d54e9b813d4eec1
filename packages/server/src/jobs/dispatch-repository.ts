import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDateOrNull } from "../db/row.js";

const EndpointLoad = z.object({
  id: z.uuid(),
  concurrency: z.int(),
  requestsPerMinute: z.int().nullable(),
  tokensPerMinute: z.int().nullable(),
  openUntil: isoDateOrNull,
  failuresInRow: z.int(),
  inFlight: z.int(),
  admitted: z.int(),
  requestsLastMinute: z.int(),
  tokensLastMinute: z.number(),
});
/** An endpoint with something to do, and what it is doing. */
export type EndpointLoad = z.infer<typeof EndpointLoad>;

const Candidate = z.object({ id: z.uuid(), runId: z.uuid().nullable(), estimateUsd: z.number() });
type Candidate = z.infer<typeof Candidate>;

const RunBudget = z.object({ id: z.uuid(), budgetUsd: z.number().nullable(), committedUsd: z.number() });

/** Any number that nothing else locks. */
const DISPATCH_LOCK = 7_301_141;

/** Generations that may be sent as soon as their endpoint has room. */
const DUE = `g.state = 'queued' AND g.superseded_at IS NULL AND r.paused_at IS NULL AND r.cancelled_at IS NULL`;

export function createDispatchRepository(db: Database) {
  return {
    lock: (transaction: Transaction) =>
      db.execute("SELECT pg_advisory_xact_lock($1)", [DISPATCH_LOCK], transaction).then(() => undefined),
    listLoads: (transaction: Transaction) =>
      db.select(
        EndpointLoad,
        `SELECT p.id, p.concurrency, p.requests_per_minute AS "requestsPerMinute", p.tokens_per_minute AS "tokensPerMinute",
           p.open_until AS "openUntil", p.failures_in_row AS "failuresInRow",
           (SELECT count(*)::int FROM generations g WHERE g.endpoint_id = p.id AND g.state IN ('admitted', 'running')) AS "inFlight",
           (SELECT count(*)::int FROM generations g WHERE g.endpoint_id = p.id AND g.state = 'admitted') AS admitted,
           CASE WHEN p.requests_per_minute IS NULL THEN 0 ELSE
             (SELECT count(*)::int FROM attempts a JOIN generations g ON g.id = a.generation_id
              WHERE g.endpoint_id = p.id AND a.sent_at > now() - interval '1 minute') END AS "requestsLastMinute",
           CASE WHEN p.tokens_per_minute IS NULL THEN 0 ELSE
             (SELECT coalesce(sum(coalesce((a.usage->>'inputTokens')::float, 0) + coalesce((a.usage->>'outputTokens')::float, length(a.text) / 4)), 0)::float
              FROM attempts a JOIN generations g ON g.id = a.generation_id
              WHERE g.endpoint_id = p.id AND coalesce(a.ended_at, now()) > now() - interval '1 minute') END AS "tokensLastMinute"
         FROM endpoints p
         WHERE EXISTS (SELECT FROM generations g JOIN runs r ON r.id = g.run_id
           WHERE g.endpoint_id = p.id AND ${DUE} AND (g.not_before IS NULL OR g.not_before <= now()))`,
        [],
        transaction,
      ),
    listCandidates: (endpointId: string, limit: number, transaction: Transaction) =>
      db.select(
        Candidate,
        `SELECT g.id, g.run_id AS "runId", coalesce(g.estimate_usd, 0) AS "estimateUsd"
         FROM generations g JOIN runs r ON r.id = g.run_id
         WHERE g.endpoint_id = $1 AND ${DUE} AND (g.not_before IS NULL OR g.not_before <= now())
         ORDER BY r.created_at, g.position, g.id LIMIT $2 FOR UPDATE OF g SKIP LOCKED`,
        [endpointId, limit],
        transaction,
      ),
    /** Parts candidates into those that their runs' budgets cover, and the runs whose budget is reached. */
    async withinBudgets(candidates: readonly Candidate[], transaction: Transaction) {
      const runIds = [...new Set(candidates.map(({ runId }) => runId).filter((id) => id !== null))];
      const budgets = await db.select(
        RunBudget,
        `SELECT r.id, r.budget_usd AS "budgetUsd",
           (SELECT coalesce(sum(coalesce(g.cost_usd, 0) + CASE WHEN g.state IN ('admitted', 'running') THEN coalesce(g.estimate_usd, 0) ELSE 0 END), 0)
            FROM generations g WHERE g.run_id = r.id) AS "committedUsd"
         FROM runs r WHERE r.id = ANY($1::uuid[]) AND r.budget_usd IS NOT NULL`,
        [runIds],
        transaction,
      );
      const left = new Map(budgets.map(({ id, budgetUsd, committedUsd }) => [id, budgetUsd! - committedUsd]));
      const admitted: string[] = [];
      const held = new Set<string>();
      for (const { id, runId, estimateUsd } of candidates) {
        const room = runId === null ? undefined : left.get(runId);
        if (room === undefined) admitted.push(id);
        else if (held.has(runId!)) continue;
        else if (estimateUsd > room || room <= 0) held.add(runId!);
        else {
          admitted.push(id);
          left.set(runId!, room - estimateUsd);
        }
      }
      return { admitted, held: [...held] };
    },
    /** Milliseconds until the next generation that waits for its time may be sent, or null. */
    async findNextDueMs(transaction: Transaction): Promise<number | null> {
      const [row] = await db.select(
        z.object({ dueInMs: z.number().nullable() }),
        `SELECT (extract(epoch FROM min(g.not_before) - now()) * 1000)::float AS "dueInMs"
         FROM generations g JOIN runs r ON r.id = g.run_id WHERE ${DUE} AND g.not_before > now()`,
        [],
        transaction,
      );
      return row?.dueInMs ?? null;
    },
  };
}
