import * as z from "zod";

export const LoadRow = z.object({
  id: z.uuid(),
  concurrency: z.int(),
  requestsPerMinute: z.int().nullable(),
  tokensPerMinute: z.int().nullable(),
  inFlight: z.int(),
  admitted: z.int(),
  requestsLastMinute: z.int(),
  tokensLastMinute: z.number(),
});
/** An endpoint with something to do, and what it is doing. */
export type EndpointLoad = z.infer<typeof LoadRow>;

export const CandidateRow = z.object({ id: z.uuid(), runId: z.uuid().nullable(), estimateUsd: z.number() });
export type Candidate = z.infer<typeof CandidateRow>;

export const BudgetRow = z.object({ id: z.uuid(), budgetUsd: z.number().nullable(), committedUsd: z.number() });

/** Any number that nothing else locks. */
export const LOCK = "SELECT pg_advisory_xact_lock(7301141)";

/** Generations that may be sent as soon as their endpoint has room. */
const DUE = `g.state = 'queued' AND g.superseded_at IS NULL AND r.paused_at IS NULL AND r.cancelled_at IS NULL`;
const IS_TIME = "(g.not_before IS NULL OR g.not_before <= now())";

export const LOADS = `
  SELECT p.id, p.concurrency, p.requests_per_minute AS "requestsPerMinute", p.tokens_per_minute AS "tokensPerMinute",
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
  WHERE EXISTS (SELECT FROM generations g JOIN runs r ON r.id = g.run_id WHERE g.endpoint_id = p.id AND ${DUE} AND ${IS_TIME})`;

/** Models that failed in a row at endpoint $1 and were paused for it. */
export const PAUSED = `
  SELECT c.model, greatest(0, extract(epoch FROM c.open_until - now()) * 1000)::float AS "openMs",
    EXISTS (SELECT FROM generations g JOIN entrant_versions v ON v.id = g.version_id
      WHERE g.endpoint_id = c.endpoint_id AND v.model = c.model AND g.state IN ('admitted', 'running')) AS "isTried"
  FROM circuits c WHERE c.endpoint_id = $1 AND c.open_until IS NOT NULL`;

export const PausedRow = z.object({ model: z.string(), openMs: z.number(), isTried: z.boolean() });

const FROM_DUE = `
  SELECT g.id, g.run_id AS "runId", coalesce(g.estimate_usd, 0) AS "estimateUsd"
  FROM generations g JOIN runs r ON r.id = g.run_id JOIN entrant_versions v ON v.id = g.version_id
  WHERE g.endpoint_id = $1 AND ${DUE} AND ${IS_TIME}`;

/** What endpoint $1 could be sent next, at most $2, of other models than $3. */
export const CANDIDATES = `${FROM_DUE} AND v.model <> ALL($3::text[])
  ORDER BY r.created_at, g.position, g.id LIMIT $2 FOR UPDATE OF g SKIP LOCKED`;

/** With what to try whether model $2 answers at endpoint $1 again: with what was tried least. */
export const PROBE = `${FROM_DUE} AND v.model = $2 ORDER BY g.tries, r.created_at, g.position, g.id LIMIT 1 FOR UPDATE OF g SKIP LOCKED`;

/** The budgets of runs $1, and what of each is spent or being spent. */
export const BUDGETS = `
  SELECT r.id, r.budget_usd AS "budgetUsd",
    (SELECT coalesce(sum(coalesce(g.cost_usd, 0) + CASE WHEN g.state IN ('admitted', 'running') THEN coalesce(g.estimate_usd, 0) ELSE 0 END), 0)
     FROM generations g WHERE g.run_id = r.id) AS "committedUsd"
  FROM runs r WHERE r.id = ANY($1::uuid[]) AND r.budget_usd IS NOT NULL`;

export const NEXT_DUE = `
  SELECT (extract(epoch FROM min(g.not_before) - now()) * 1000)::float AS "dueInMs"
  FROM generations g JOIN runs r ON r.id = g.run_id WHERE ${DUE} AND g.not_before > now()`;
