import { FailureCause, Outcome, Run, RunCounts, RunOptions, type RunInput, Unlike } from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate, isoDateOrNull } from "../db/row.js";
import { IS_MISMATCH, REPLANNED } from "../generations/generation-sql.js";

const COUNT_NAMES = Object.keys(RunCounts.shape) as (keyof RunCounts)[];

const RunRow = z
  .object({
    ...Run.omit({ counts: true, options: true }).shape,
    ...RunCounts.shape,
    stored: z.object({
      options: RunOptions.prefault({}),
      acceptedWhy: z.string().nullish(),
      unlike: z.array(Unlike).default([]),
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
    counts: Object.fromEntries(COUNT_NAMES.map((name) => [name, row[name]])) as unknown as RunCounts,
  }));

const inStates = (name: string, ...states: string[]) =>
  `count(*) FILTER (WHERE g.state IN (${states.map((state) => `'${state}'`).join(", ")}))::int AS ${name}`;
const SELECT = `
  SELECT r.id, r.edition_id AS "editionId", r.number, r.takes, r.options AS stored, r.budget_usd AS "budgetUsd",
    r.created_at AS "createdAt", r.paused_at AS "pausedAt", r.cancelled_at AS "cancelledAt", t.*, v.recorded, v."toRecord"
  FROM runs r
  LEFT JOIN LATERAL (
    SELECT count(g.id)::int AS total, ${inStates("waiting", "waiting")}, ${inStates("queued", "queued")},
      ${inStates("running", "admitted", "running")}, ${inStates("answered", "answered")}, ${inStates("failed", "failed")},
      ${inStates("cancelled", "cancelled")}, ${inStates("held", "held")}, coalesce(sum(g.cost_usd), 0) AS "costUsd",
      coalesce(sum((g.usage->>'inputTokens')::float), 0) AS "inputTokens",
      coalesce(sum((g.usage->>'outputTokens')::float), 0) AS "outputTokens"
    FROM generations g WHERE g.run_id = r.id) t ON true
  LEFT JOIN LATERAL (
    SELECT count(e.id) FILTER (WHERE e.entry_path IS NOT NULL)::int AS "toRecord",
      count(e.id) FILTER (WHERE EXISTS (SELECT FROM renders w WHERE w.entry_id = e.id AND w.state <> 'queued'))::int AS recorded
    FROM generations g JOIN entries e ON e.generation_id = g.id WHERE g.run_id = r.id) v ON true`;

const FailureRow = z.object({
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

const EntrantProgressRow = z.object({
  entrantId: z.uuid(),
  name: z.string(),
  glyph: z.int(),
  ...progress,
  costUsd: z.number(),
  medianTotalMs: z.number().nullable(),
  mismatched: z.int(),
});
const PromptProgressRow = z.object({ promptId: z.uuid(), title: z.string(), ...progress });
const PaceRow = z.object({ answers: z.int(), tokens: z.number(), spanSeconds: z.number().nullable() });
const EndpointRow = z.object({
  id: z.uuid(),
  baseUrl: z.string(),
  inFlight: z.int(),
  concurrency: z.int(),
  openUntil: isoDateOrNull,
  openReason: z.string().nullable(),
});

/** What is known of entrants' earlier answers, by entrant. */
const EarlierRow = z.object({
  entrantId: z.uuid(),
  inputTokens: z.number().nullable(),
  outputTokens: z.number().nullable(),
  totalMs: z.number().nullable(),
  answers: z.int(),
});
const PlacesRow = z.object({ entrantId: z.uuid(), existing: z.int() });

/** Which cells come first, as SQL; takes and the suite's order break ties. */
const ORDERS: Readonly<Record<RunOptions["order"], string>> = {
  "round-robin": "take, q.position, n.created_at, n.id",
  prompt: "q.position, take, n.created_at, n.id",
  entrant: "n.created_at, n.id, take, q.position",
};

const id = z.object({ id: z.uuid() });

export interface NewRun extends RunInput {
  /** What one generation of an entrant will roughly cost, by entrant. */
  estimates: readonly { entrantId: string; usd: number | null }[];
  unlike: readonly Unlike[];
}

export function createRunRepository(db: Database) {
  const find = async (runId: string, transaction?: Transaction) => {
    const [run] = await db.select(RunRow, `${SELECT} WHERE r.id = $1`, [runId], transaction);
    return run ?? null;
  };
  /** Makes generations for the cells and takes that have none yet; resolves with how many. */
  async function addGenerations(
    runId: string,
    {
      editionId,
      promptIds,
      entrantIds,
      takes,
      options,
      estimates,
    }: Pick<NewRun, "editionId" | "promptIds" | "entrantIds" | "takes" | "options" | "estimates">,
    transaction: Transaction,
  ): Promise<number> {
    return db.execute(
      `INSERT INTO generations (run_id, prompt_id, entrant_id, take, stage, state, requested_model, endpoint_id, entrant_version, estimate_usd, position)
       SELECT $1, q.id, n.id, take, stage, CASE WHEN stage = 1 THEN 'queued' ELSE 'waiting' END, n.model, n.endpoint_id, n.version,
         x.usd, row_number() OVER (ORDER BY ${ORDERS[options.order]}, stage)
       FROM prompts q, entrants n JOIN endpoints p ON p.id = n.endpoint_id
         LEFT JOIN jsonb_to_recordset($6::jsonb) AS x("entrantId" uuid, usd float) ON x."entrantId" = n.id,
         generate_series(1, $2::int) take, generate_series(1, 1 + jsonb_array_length(coalesce(q.content->'stages', '[]'))) stage
       WHERE q.edition_id = $3 AND q.id = ANY($4::uuid[]) AND n.id = ANY($5::uuid[]) AND p.protocol <> 'by-hand' AND n.retired_at IS NULL
       ON CONFLICT (prompt_id, entrant_id, take, stage, mend_round) DO UPDATE SET run_id = excluded.run_id, state = excluded.state,
         attempts = 0, tries = 0, outcome = NULL, outcome_detail = NULL, not_before = NULL, queued_at = now(), position = excluded.position,
         estimate_usd = excluded.estimate_usd, endpoint_id = excluded.endpoint_id, entrant_version = excluded.entrant_version
         WHERE generations.state IN ${REPLANNED}`,
      [runId, takes, editionId, promptIds, entrantIds, JSON.stringify(estimates)],
      transaction,
    );
  }
  return {
    find,
    addGenerations,
    list: (editionId: string) =>
      db.select(RunRow, `${SELECT} WHERE r.edition_id = $1 ORDER BY r.number DESC`, [editionId]),
    /** Makes a run of what is missing; resolves with its id and how many generations it has. */
    async create(input: NewRun, transaction: Transaction) {
      const { editionId, takes, options, budgetUsd, acceptedWhy, unlike } = input;
      // The edition's row lock makes two plans take turns, so that run numbers have no gaps.
      await db.execute("SELECT FROM editions WHERE id = $1 FOR NO KEY UPDATE", [editionId], transaction);
      const [run] = await db.select(
        id,
        `INSERT INTO runs (edition_id, number, takes, options, budget_usd)
         SELECT $1, coalesce(max(number), 0) + 1, $2, $3::jsonb, $4 FROM runs WHERE edition_id = $1 RETURNING id`,
        [editionId, takes, JSON.stringify({ options, acceptedWhy: acceptedWhy ?? null, unlike }), budgetUsd ?? null],
        transaction,
      );
      return { runId: run!.id, added: await addGenerations(run!.id, input, transaction) };
    },
    /** How many of the wanted cells and takes each entrant has already. */
    listPlaces: ({ promptIds, entrantIds, takes }: Pick<RunInput, "promptIds" | "entrantIds" | "takes">) =>
      db.select(
        PlacesRow,
        `SELECT entrant_id AS "entrantId", count(*)::int AS existing FROM generations
         WHERE entrant_id = ANY($1::uuid[]) AND prompt_id = ANY($2::uuid[]) AND take <= $3 AND stage = 1 AND mend_round = 0
           AND state NOT IN ${REPLANNED} GROUP BY entrant_id`,
        [entrantIds, promptIds, takes],
      ),
    listEarlier: (entrantIds: readonly string[]) =>
      db.select(
        EarlierRow,
        `SELECT entrant_id AS "entrantId", count(*)::int AS answers,
           percentile_cont(0.5) WITHIN GROUP (ORDER BY (usage->>'inputTokens')::float) AS "inputTokens",
           percentile_cont(0.5) WITHIN GROUP (ORDER BY (usage->>'outputTokens')::float) AS "outputTokens",
           percentile_cont(0.5) WITHIN GROUP (ORDER BY (timings->>'totalMs')::float) AS "totalMs"
         FROM generations WHERE entrant_id = ANY($1::uuid[]) AND state = 'answered' AND NOT by_hand AND mend_round = 0 GROUP BY entrant_id`,
        [entrantIds],
      ),
    /** The prompts and takes that a run is over. */
    async findScope(runId: string, transaction: Transaction) {
      const rows = await db.select(
        z.object({ promptId: z.uuid() }),
        'SELECT DISTINCT prompt_id AS "promptId" FROM generations WHERE run_id = $1',
        [runId],
        transaction,
      );
      return rows.map(({ promptId }) => promptId);
    },
    /** Makes what failed, was cancelled or held wait again: all of it, or the given ones. */
    async requeue(runId: string, generationIds: readonly string[] | null, transaction: Transaction): Promise<number> {
      await db.execute("UPDATE runs SET cancelled_at = NULL WHERE id = $1", [runId], transaction);
      return db.execute(
        `UPDATE generations g SET state = CASE WHEN g.stage = 1 OR g.mend_round > 0 OR EXISTS (SELECT FROM generations b WHERE b.prompt_id = g.prompt_id
             AND b.entrant_id = g.entrant_id AND b.take = g.take AND b.stage = g.stage - 1 AND b.state = 'answered') THEN 'queued' ELSE 'waiting' END,
           tries = 0, not_before = NULL, outcome = NULL, outcome_detail = NULL, queued_at = now()
         WHERE g.run_id = $1 AND g.state IN ('failed', 'cancelled', 'held') AND ($2::uuid[] IS NULL OR g.id = ANY($2::uuid[]))`,
        [runId, generationIds],
        transaction,
      );
    },
    /** Cancels what waits; what is being sent is let finish. */
    async cancel(runId: string): Promise<void> {
      await db.transact(async (transaction) => {
        await db.execute("UPDATE runs SET cancelled_at = now(), paused_at = NULL WHERE id = $1", [runId], transaction);
        await db.execute(
          `UPDATE generations SET state = 'cancelled', outcome = 'cancelled', outcome_detail = NULL
           WHERE run_id = $1 AND state IN ('waiting', 'queued', 'admitted', 'held')`,
          [runId],
          transaction,
        );
      });
    },
    async setPaused(runId: string, isPaused: boolean): Promise<void> {
      await db.transact(async (transaction) => {
        await db.execute(
          "UPDATE runs SET paused_at = CASE WHEN $2 THEN now() END WHERE id = $1",
          [runId, isPaused],
          transaction,
        );
        // What was admitted but not sent yet waits again.
        if (isPaused)
          await db.execute(
            "UPDATE generations SET state = 'queued' WHERE run_id = $1 AND state = 'admitted'",
            [runId],
            transaction,
          );
      });
    },
    async setBudget(runId: string, budgetUsd: number | null, transaction: Transaction): Promise<void> {
      await db.execute("UPDATE runs SET budget_usd = $2 WHERE id = $1", [runId, budgetUsd], transaction);
      await db.execute(
        `UPDATE generations SET state = CASE WHEN stage = 1 THEN 'queued' ELSE 'waiting' END, outcome = NULL, outcome_detail = NULL
         WHERE run_id = $1 AND state = 'held'`,
        [runId],
        transaction,
      );
    },
    listFailures: (runId: string) =>
      db.select(
        FailureRow,
        `SELECT cause, outcome, message, (array_agg(remedy))[1] AS remedy, count(*)::int AS count,
           (array_agg(id ORDER BY position))[1:500] AS "generationIds",
           (array_agg(json_build_object('promptTitle', title, 'entrantName', name, 'take', take, 'attempts', attempts) ORDER BY position))[1:20] AS places
         FROM (SELECT g.id, g.position, g.take, g.attempts, g.outcome, g.failures->-1->>'cause' AS cause,
             split_part(g.failures->-1->>'message', E'\\n', 1) AS message, g.failures->-1->>'remedy' AS remedy,
             q.content->>'title' AS title, n.name
           FROM generations g JOIN prompts q ON q.id = g.prompt_id JOIN entrants n ON n.id = g.entrant_id
           WHERE g.run_id = $1 AND g.state IN ('failed', 'queued') AND g.failures <> '[]' AND (g.state = 'failed' OR g.tries > 0)) f
         GROUP BY cause, outcome, message ORDER BY count(*) DESC, message LIMIT 50`,
        [runId],
      ),
    listOutcomes: (runId: string) =>
      db.select(
        z.object({ outcome: Outcome, count: z.int() }),
        `SELECT outcome, count(*)::int AS count FROM generations WHERE run_id = $1 AND outcome IS NOT NULL GROUP BY outcome ORDER BY count(*) DESC, outcome`,
        [runId],
      ),
    listEntrantProgress: (runId: string) =>
      db.select(
        EntrantProgressRow,
        `SELECT n.id AS "entrantId", n.name, n.glyph, ${PROGRESS}, coalesce(sum(g.cost_usd), 0) AS "costUsd",
           percentile_cont(0.5) WITHIN GROUP (ORDER BY (g.timings->>'totalMs')::float) AS "medianTotalMs",
           count(*) FILTER (WHERE ${IS_MISMATCH})::int AS mismatched
         FROM generations g JOIN entrants n ON n.id = g.entrant_id WHERE g.run_id = $1 GROUP BY n.id ORDER BY n.created_at`,
        [runId],
      ),
    listPromptProgress: (runId: string) =>
      db.select(
        PromptProgressRow,
        `SELECT q.id AS "promptId", q.content->>'title' AS title, ${PROGRESS}
         FROM generations g JOIN prompts q ON q.id = g.prompt_id WHERE g.run_id = $1 GROUP BY q.id ORDER BY q.position`,
        [runId],
      ),
    /** Answers and tokens of the last few minutes, and over how long they came. */
    async findPace(runId: string) {
      const [row] = await db.select(
        PaceRow,
        `SELECT count(*)::int AS answers, coalesce(sum((usage->>'outputTokens')::float), 0) AS tokens,
           extract(epoch FROM now() - greatest(min(answered_at - (timings->>'totalMs')::float * interval '1 millisecond'), now() - interval '3 minutes'))::float AS "spanSeconds"
         FROM generations WHERE run_id = $1 AND state = 'answered' AND answered_at > now() - interval '3 minutes'`,
        [runId],
      );
      return row!;
    },
    listEndpoints: (runId: string) =>
      db.select(
        EndpointRow,
        `SELECT p.id, p.base_url AS "baseUrl", p.concurrency, CASE WHEN p.open_until > now() THEN p.open_until END AS "openUntil",
           p.open_reason AS "openReason", count(g.id) FILTER (WHERE g.state IN ('admitted', 'running'))::int AS "inFlight"
         FROM endpoints p JOIN generations g ON g.endpoint_id = p.id
         WHERE p.base_url IS NOT NULL AND p.id IN (SELECT endpoint_id FROM generations WHERE run_id = $1) GROUP BY p.id ORDER BY p.base_url`,
        [runId],
      ),
  };
}
export type RunRepository = ReturnType<typeof createRunRepository>;
