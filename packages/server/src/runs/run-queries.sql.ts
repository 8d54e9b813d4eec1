import { FailureCause, Outcome, Run, RunCounts, RunOptions, Unlike } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate, isoDateOrNull } from "../db/row.js";

const COUNT_NAMES = Object.keys(RunCounts.shape) as (keyof RunCounts)[];

export const RunRow = z
  .object({
    ...Run.omit({ counts: true, options: true, purpose: true }).shape,
    ...RunCounts.shape,
    stored: z.object({
      options: RunOptions.prefault({}),
      acceptedWhy: z.string().nullish(),
      unlike: z.array(Unlike).default([]),
      purpose: Run.shape.purpose.optional(),
    }),
    createdAt: isoDate,
    pausedAt: isoDateOrNull,
    cancelledAt: isoDateOrNull,
  })
  .transform(({ stored, ...row }) => ({
    ...row,
    options: stored.options,
    acceptedWhy: stored.acceptedWhy ?? null,
    unlike: stored.unlike,
    purpose: stored.purpose ?? "takes",
    counts: Object.fromEntries(COUNT_NAMES.map((name) => [name, row[name]])) as unknown as RunCounts,
  }));

const inStates = (name: string, ...states: string[]) =>
  `count(*) FILTER (WHERE g.state IN (${states.map((state) => `'${state}'`).join(", ")}))::int AS ${name}`;
export const SELECT_RUNS = `
  SELECT r.id, r.edition_id AS "editionId", r.number, r.takes, r.options AS stored, r.budget_usd AS "budgetUsd",
    r.created_at AS "createdAt", r.paused_at AS "pausedAt", r.cancelled_at AS "cancelledAt", (SELECT d.reason FROM redos d WHERE d.id = r.redo_id) AS "redoReason", t.*, v.recorded, v."toRecord"
  FROM runs r
  LEFT JOIN LATERAL (
    SELECT count(g.id)::int AS total, ${inStates("waiting", "waiting")}, ${inStates("queued", "queued")},
      ${inStates("running", "admitted", "running")}, ${inStates("answered", "answered")}, ${inStates("failed", "failed")},
      ${inStates("cancelled", "cancelled")}, ${inStates("held", "held")},
      (count(*) FILTER (WHERE g.outcome = 'untaken'))::int AS untaken, coalesce(sum(g.cost_usd), 0) AS "costUsd",
      coalesce(sum((g.usage->>'inputTokens')::float), 0) AS "inputTokens",
      coalesce(sum((g.usage->>'outputTokens')::float), 0) AS "outputTokens"
    FROM generations g WHERE g.run_id = r.id) t ON true
  LEFT JOIN LATERAL (
    SELECT count(e.id) FILTER (WHERE e.entry_path IS NOT NULL)::int AS "toRecord",
      count(e.id) FILTER (WHERE EXISTS (SELECT FROM renders w WHERE w.entry_id = e.id AND w.state <> 'queued'))::int AS recorded
    FROM generations g JOIN entries e ON e.generation_id = g.id WHERE g.run_id = r.id) v ON true`;

export const FailureRow = z.object({
  cause: FailureCause,
  outcome: Outcome.nullable(),
  message: z.string(),
  remedy: z.string(),
  count: z.int(),
  generationIds: z.array(z.uuid()),
  places: z.array(z.object({ promptTitle: z.string(), entrantName: z.string(), take: z.int(), attempts: z.int() })),
});

const progress = { total: z.int(), answered: z.int(), failed: z.int(), running: z.int() };
const PROGRESS = `count(*)::int AS total, ${inStates("answered", "answered")}, ${inStates("failed", "failed")}, ${inStates("running", "admitted", "running")}`;

export const EntrantProgressRow = z.object({
  entrantId: z.uuid(),
  name: z.string(),
  glyph: z.int(),
  ...progress,
  costUsd: z.number(),
  medianTotalMs: z.number().nullable(),
  mismatched: z.int(),
});
export const PromptProgressRow = z.object({ promptId: z.uuid(), title: z.string(), ...progress });
export const PaceRow = z.object({ answers: z.int(), tokens: z.number(), spanSeconds: z.number().nullable() });
export const EndpointRow = z.object({
  id: z.uuid(),
  baseUrl: z.string(),
  inFlight: z.int(),
  concurrency: z.int(),
  paused: z.array(z.object({ model: z.string(), until: z.string(), reason: z.string() })),
});

/** What is known of entrants' earlier answers, by entrant. */
export const EarlierRow = z.object({
  entrantId: z.uuid(),
  inputTokens: z.number().nullable(),
  outputTokens: z.number().nullable(),
  totalMs: z.number().nullable(),
  answers: z.int(),
});
export const PlacesRow = z.object({ entrantId: z.uuid(), existing: z.int() });

/** Which cells come first, as SQL; takes and the suite's order break ties. */
export const ORDERS: Readonly<Record<RunOptions["order"], string>> = {
  "round-robin": "take, q.position, n.created_at, n.id",
  prompt: "q.position, take, n.created_at, n.id",
  entrant: "n.created_at, n.id, take, q.position",
};

export const OutcomeRow = z.object({ outcome: Outcome, count: z.int() });

/**
 * Updates PostgreSQL's statistics after a run has added many generations at once. Autovacuum would do so within a minute; until then
 * the planner expects a handful of rows and joins 15,000 of them by nested loops.
 */
export const KNOW_GENERATIONS = `ANALYZE generations (wording_id, version_id, entrant_id, run_id, take, turn, round, state, superseded_at)`;
/** Fewer do not change how they are best read. */
export const WORTH_KNOWING = 1000;

/** How many takes up to $3 of prompts $2 of edition $4 entrants $1 have as they are set up now, but for those in the states $5. */
export const PLACES = `
  SELECT g.entrant_id AS "entrantId", count(*)::int AS existing FROM generations g JOIN prompts q ON q.wording_id = g.wording_id
    JOIN entrants n ON n.version_id = g.version_id
  WHERE q.edition_id = $4 AND g.entrant_id = ANY($1::uuid[]) AND q.id = ANY($2::uuid[]) AND g.take <= $3 AND g.turn = 1 AND g.round = 0
    AND g.superseded_at IS NULL AND NOT (g.state = ANY($5::text[])) GROUP BY 1`;

export const EARLIER = `
  SELECT entrant_id AS "entrantId", count(*)::int AS answers,
    percentile_cont(0.5) WITHIN GROUP (ORDER BY (usage->>'inputTokens')::float) AS "inputTokens",
    percentile_cont(0.5) WITHIN GROUP (ORDER BY (usage->>'outputTokens')::float) AS "outputTokens",
    percentile_cont(0.5) WITHIN GROUP (ORDER BY (timings->>'totalMs')::float) AS "totalMs"
  FROM generations WHERE entrant_id = ANY($1::uuid[]) AND state = 'answered' AND NOT by_hand AND round = 0 GROUP BY entrant_id`;

export const SCOPE = `
  WITH asked AS MATERIALIZED (SELECT DISTINCT wording_id FROM generations WHERE run_id = $1)
  SELECT q.id AS "promptId" FROM runs r JOIN prompts q ON q.edition_id = r.edition_id JOIN asked ON asked.wording_id = q.wording_id WHERE r.id = $1`;

/** What failed in run $1, by cause and first line. */
export const FAILURES = `
  SELECT cause, outcome, message, (array_agg(remedy))[1] AS remedy, count(*)::int AS count,
    (array_agg(id ORDER BY position))[1:500] AS "generationIds",
    (array_agg(json_build_object('promptTitle', title, 'entrantName', name, 'take', take, 'attempts', attempts) ORDER BY position))[1:20] AS places
  FROM (SELECT g.id, g.position, g.take, g.attempts, g.outcome, g.failures->-1->>'cause' AS cause,
      split_part(g.failures->-1->>'message', E'\\n', 1) AS message, g.failures->-1->>'remedy' AS remedy,
      q.content->>'title' AS title, n.name
    FROM generations g JOIN runs r ON r.id = g.run_id JOIN prompts q ON q.edition_id = r.edition_id AND q.wording_id = g.wording_id
      JOIN entrants n ON n.id = g.entrant_id
    WHERE g.run_id = $1 AND g.failures <> '[]' AND (g.state = 'failed' OR g.state = 'queued' AND g.tries > 0 OR g.outcome = 'untaken')) f
  GROUP BY cause, outcome, message ORDER BY count(*) DESC, message LIMIT 50`;

export const OUTCOMES = `
  SELECT outcome, count(*)::int AS count FROM generations WHERE run_id = $1 AND outcome IS NOT NULL GROUP BY outcome ORDER BY count(*) DESC, outcome`;

export const ENTRANT_PROGRESS = `
  SELECT n.id AS "entrantId", n.name, n.glyph, ${PROGRESS}, coalesce(sum(g.cost_usd), 0) AS "costUsd",
    percentile_cont(0.5) WITHIN GROUP (ORDER BY (g.timings->>'totalMs')::float) AS "medianTotalMs",
    count(*) FILTER (WHERE g.is_mismatch)::int AS mismatched
  FROM generations g JOIN entrants n ON n.id = g.entrant_id WHERE g.run_id = $1 GROUP BY n.id ORDER BY n.created_at`;

/** Counted before it is joined: just after a run has begun, nothing is known of how many rows it has. */
export const PROMPT_PROGRESS = `
  WITH counted AS MATERIALIZED (SELECT g.wording_id, ${PROGRESS} FROM generations g WHERE g.run_id = $1 GROUP BY g.wording_id)
  SELECT q.id AS "promptId", q.content->>'title' AS title, total, answered, failed, running
  FROM runs r JOIN prompts q ON q.edition_id = r.edition_id JOIN counted ON counted.wording_id = q.wording_id
  WHERE r.id = $1 ORDER BY q.position`;

/** Answers and tokens of the last few minutes, and over how long they came. */
export const PACE = `
  SELECT count(*)::int AS answers, coalesce(sum((usage->>'outputTokens')::float), 0) AS tokens,
    extract(epoch FROM now() - greatest(min(answered_at - (timings->>'totalMs')::float * interval '1 millisecond'), now() - interval '3 minutes'))::float AS "spanSeconds"
  FROM generations WHERE run_id = $1 AND state = 'answered' AND answered_at > now() - interval '3 minutes'`;

export const ENDPOINTS = `
  SELECT p.id, p.base_url AS "baseUrl", p.concurrency,
    coalesce((SELECT json_agg(json_build_object('model', c.model, 'reason', c.reason,
        'until', to_char(c.open_until AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) ORDER BY c.model)
      FROM circuits c WHERE c.endpoint_id = p.id AND c.open_until > now()), '[]'::json) AS paused,
    (SELECT count(*)::int FROM generations g WHERE g.endpoint_id = p.id AND g.state IN ('admitted', 'running')) AS "inFlight"
  FROM endpoints p
  WHERE p.base_url IS NOT NULL AND p.id IN (SELECT endpoint_id FROM generations WHERE run_id = $1) ORDER BY p.base_url`;

export const END_PAUSES = "UPDATE circuits SET open_until = now() WHERE endpoint_id = $1 AND open_until > now()";
