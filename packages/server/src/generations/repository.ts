import {
  Attempt,
  type AttemptPurpose,
  Failure,
  type FailureCause,
  FollowUp,
  type Outcome,
  Prices,
  PromptDefinition,
  Settings,
  type Timings,
  type Usage,
} from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate, isoDateOrNull } from "../db/row.js";
import { RunOptions } from "@tourney/core/contract";

const ClaimedRow = z.object({
  id: z.uuid(),
  wasRunning: z.boolean(),
  tries: z.int(),
  runId: z.uuid().nullable(),
  options: RunOptions.prefault({}),
  take: z.int(),
  stage: z.int(),
  mendRound: z.int(),
  followUp: FollowUp.nullable(),
  queuedAt: isoDate,
  model: z.string(),
  settings: Settings,
  prices: Prices.nullable(),
  promptId: z.uuid(),
  prompt: PromptDefinition,
  entrantId: z.uuid(),
  endpointId: z.uuid(),
  protocol: z.enum(["chat-completions", "messages"]),
  baseUrl: z.string(),
  keyVariable: z.string().nullable(),
});
/** A generation that this process may send, with all it needs. */
export type ClaimedGeneration = z.infer<typeof ClaimedRow>;

const AttemptRow = z.object({
  ...Attempt.omit({ sentAt: true, endedAt: true }).shape,
  id: z.uuid(),
  text: z.string(),
  reasoning: z.string(),
  sentAt: isoDate,
  endedAt: isoDateOrNull,
});
export type AttemptRow = z.infer<typeof AttemptRow>;

const TurnRow = z.object({ stage: z.int(), mendRound: z.int(), answer: z.string(), followUp: FollowUp.nullable() });
export type TurnRow = z.infer<typeof TurnRow>;

export interface EndedAttempt {
  outcome: "answered" | FailureCause;
  message: string | null;
  remedy: string | null;
  httpStatus: number | null;
  headers: Record<string, string>;
  request: unknown;
  text: string;
  reasoning: string;
  usage: Usage | null;
  firstTokenMs: number | null;
  totalMs: number | null;
  finishReason: string | null;
  reportedModel: string | null;
  costUsd: number | null;
  costIsEstimate: boolean;
}

export interface FinalAnswer {
  text: string;
  reasoning: string;
  usage: Usage;
  timings: Timings;
  costUsd: number | null;
  finishReason: string | null;
  reportedModel: string | null;
  request: unknown;
  outcome: Outcome;
  outcomeDetail: string | null;
}

/** PostgreSQL's text and jsonb cannot hold NUL; a page never means one. */
const clean = (text: string) => text.replaceAll("\0", "\ufffd");
const json = (value: unknown) =>
  value === null || value === undefined ? null : JSON.stringify(value).replaceAll("\\u0000", "\\ufffd");

export function createGenerationRepository(db: Database) {
  return {
    /**
     * Marks a generation as being sent; null when it is no longer to be sent. One that is marked running already was
     * being sent when a process died.
     */
    async claim(generationId: string): Promise<ClaimedGeneration | null> {
      const [row] = await db.select(
        ClaimedRow,
        `UPDATE generations g SET state = 'running'
         FROM generations old JOIN entrants n ON n.id = old.entrant_id JOIN endpoints p ON p.id = old.endpoint_id
           JOIN prompts q ON q.id = old.prompt_id LEFT JOIN runs r ON r.id = old.run_id
         WHERE g.id = $1 AND old.id = g.id AND g.state IN ('admitted', 'running')
         RETURNING g.id, old.state = 'running' AS "wasRunning", g.tries, g.run_id AS "runId", coalesce(r.options->'options', '{}') AS options,
           g.take, g.stage, g.mend_round AS "mendRound", g.follow_up AS "followUp", g.queued_at AS "queuedAt", n.model, n.settings,
           n.prices, q.id AS "promptId", q.content AS prompt, n.id AS "entrantId", p.id AS "endpointId", p.protocol,
           p.base_url AS "baseUrl", p.key_variable AS "keyVariable"`,
        [generationId],
      );
      return row ?? null;
    },
    listAttempts: (generationId: string) =>
      db.select(
        AttemptRow,
        `SELECT id, number, purpose, request, sent_at AS "sentAt", ended_at AS "endedAt", outcome, message, remedy, http_status AS "httpStatus",
           headers, text, reasoning, length(text) AS "textLength", usage, first_token_ms AS "firstTokenMs", total_ms AS "totalMs",
           finish_reason AS "finishReason", reported_model AS "reportedModel", cost_usd AS "costUsd", cost_is_estimate AS "costIsEstimate"
         FROM attempts WHERE generation_id = $1 ORDER BY number`,
        [generationId],
      ),
    /** The turns of the same take before this generation's own: earlier stages, then earlier mend rounds. */
    listTurns: ({ promptId, entrantId, take, stage, mendRound }: ClaimedGeneration) =>
      db.select(
        TurnRow,
        `SELECT stage, mend_round AS "mendRound", answer, follow_up AS "followUp" FROM generations
         WHERE prompt_id = $1 AND entrant_id = $2 AND take = $3 AND state = 'answered'
           AND (stage < $4 AND mend_round = 0 OR stage = $4 AND mend_round < $5) ORDER BY stage, mend_round`,
        [promptId, entrantId, take, stage, mendRound],
      ),
    /** Writes down a request before it is sent, so that no process can die without a trace of it. */
    async beginAttempt(
      generationId: string,
      purpose: AttemptPurpose,
      request: unknown,
    ): Promise<{ id: string; number: number }> {
      const [row] = await db.select(
        z.object({ id: z.uuid(), number: z.int() }),
        `INSERT INTO attempts (generation_id, number, purpose, request)
         SELECT $1, coalesce(max(number), 0) + 1, $2, $3::jsonb FROM attempts WHERE generation_id = $1 RETURNING id, number`,
        [generationId, purpose, json(request)],
      );
      await db.execute("UPDATE generations SET attempts = $2 WHERE id = $1", [generationId, row!.number]);
      return row!;
    },
    async endAttempt(attemptId: string, ended: EndedAttempt, transaction?: Transaction): Promise<void> {
      await db.execute(
        `UPDATE attempts SET ended_at = now(), outcome = $2, message = $3, remedy = $4, http_status = $5, headers = $6::jsonb,
           request = coalesce($7::jsonb, request), text = $8, reasoning = $9, usage = $10::jsonb, first_token_ms = $11, total_ms = $12,
           finish_reason = $13, reported_model = $14, cost_usd = $15, cost_is_estimate = $16
         WHERE id = $1 AND ended_at IS NULL`,
        [
          attemptId,
          ended.outcome,
          ended.message,
          ended.remedy,
          ended.httpStatus,
          json(ended.headers),
          json(ended.request),
          clean(ended.text),
          clean(ended.reasoning),
          json(ended.usage),
          ended.firstTokenMs,
          ended.totalMs,
          ended.finishReason,
          ended.reportedModel,
          ended.costUsd,
          ended.costIsEstimate,
        ],
        transaction,
      );
      await db.execute("DELETE FROM stream_parts WHERE attempt_id = $1", [attemptId], transaction);
    },
    /** Requests that a dead process left open, with what it had stored of their streams. */
    listLostAttempts: (generationId: string) =>
      db.select(
        z.object({ id: z.uuid(), text: z.string() }),
        `SELECT a.id, coalesce((SELECT string_agg(s.text, '' ORDER BY s.number) FROM stream_parts s WHERE s.attempt_id = a.id), '') AS text
         FROM attempts a WHERE a.generation_id = $1 AND a.ended_at IS NULL`,
        [generationId],
      ),
    async storeParts(parts: readonly { attemptId: string; number: number; text: string }[]): Promise<void> {
      await db.execute(
        `INSERT INTO stream_parts (attempt_id, number, text) SELECT * FROM unnest($1::uuid[], $2::int[], $3::text[])
         ON CONFLICT DO NOTHING`,
        [parts.map(({ attemptId }) => attemptId), parts.map(({ number }) => number), parts.map(({ text }) => text)],
      );
    },
    /** Stores the final answer. False when the generation was cancelled or answered meanwhile. */
    async storeAnswer(generationId: string, answer: FinalAnswer, transaction: Transaction): Promise<boolean> {
      const stored = await db.execute(
        `UPDATE generations SET state = 'answered', answered_at = now(), answer = $2, reasoning = $3, usage = $4::jsonb,
           timings = $5::jsonb, cost_usd = $6, finish_reason = $7, reported_model = $8, request = $9::jsonb, outcome = $10,
           outcome_detail = $11, tries = 0
         WHERE id = $1 AND state = 'running'`,
        [
          generationId,
          clean(answer.text),
          clean(answer.reasoning),
          json(answer.usage),
          json(answer.timings),
          answer.costUsd,
          answer.finishReason,
          answer.reportedModel,
          json(answer.request),
          answer.outcome,
          answer.outcomeDetail,
        ],
        transaction,
      );
      return stored === 1;
    },
    /** Lets the stage after an answered one begin, or ends it with the one before. */
    async releaseNextStage(
      { promptId, entrantId, take, stage }: ClaimedGeneration,
      transaction: Transaction,
    ): Promise<void> {
      await db.execute(
        `UPDATE generations SET state = 'queued', queued_at = now()
         WHERE prompt_id = $1 AND entrant_id = $2 AND take = $3 AND stage = $4 + 1 AND mend_round = 0 AND state = 'waiting'`,
        [promptId, entrantId, take, stage],
        transaction,
      );
    },
    /** Records a failure and what follows from it: to be sent again after a wait, or given up. */
    async storeFailure(
      generationId: string,
      {
        failure,
        costUsd,
        waitMs,
        outcome,
      }: { failure: Failure; costUsd: number | null; waitMs: number | null; outcome: Outcome },
      transaction: Transaction,
    ): Promise<void> {
      const willRetry = waitMs !== null;
      await db.execute(
        `UPDATE generations SET state = $2, failures = failures || $3::jsonb, cost_usd = $4, tries = tries + 1,
           not_before = CASE WHEN $5::float IS NULL THEN NULL ELSE now() + $5::float * interval '1 millisecond' END,
           outcome = $6, outcome_detail = $7
         WHERE id = $1 AND state = 'running'`,
        [
          generationId,
          willRetry ? "queued" : "failed",
          JSON.stringify([failure]),
          costUsd,
          waitMs,
          willRetry ? null : outcome,
          willRetry ? null : failure.message,
        ],
        transaction,
      );
    },
    /** Counts an endpoint's failures in a row and pauses it when there are too many; a success forgets them. */
    async noteEndpoint(
      endpointId: string,
      { ok, reason, threshold, pauseMs }: { ok: boolean; reason: string; threshold: number; pauseMs: number },
      transaction: Transaction,
    ): Promise<void> {
      await db.execute(
        ok
          ? "UPDATE endpoints SET failures_in_row = 0, open_until = NULL, open_reason = NULL WHERE id = $1 AND failures_in_row > 0"
          : `UPDATE endpoints SET failures_in_row = failures_in_row + 1,
               open_until = CASE WHEN failures_in_row + 1 >= $2 THEN now() + least(600000, $3::float * 2 ^ least(10, (failures_in_row + 1 - $2))) * interval '1 millisecond' END,
               open_reason = CASE WHEN failures_in_row + 1 >= $2 THEN $4 END
             WHERE id = $1`,
        ok ? [endpointId] : [endpointId, threshold, pauseMs, reason],
        transaction,
      );
    },
    /**
     * Hands out again everything that was being sent when a process ended, and that no other works on. Its jobs are made anew, because the queue
     * gives a job up after so many tries, and a process that is killed again and again must not use them up.
     */
    async readmitAll(): Promise<void> {
      await db.execute(
        `SELECT graphile_worker.add_job('generate', json_build_object('generationId', id), job_key := 'generate:' || id)
         FROM generations WHERE state IN ('admitted', 'running')
           AND NOT EXISTS (SELECT FROM graphile_worker.jobs j WHERE j.key = 'generate:' || generations.id AND j.locked_at IS NOT NULL)`,
      );
    },
    /** Tells open pages that a run has moved. */
    async announce(runId: string | null): Promise<void> {
      if (runId !== null) await db.execute("SELECT pg_notify('tourney_runs', $1)", [runId]);
    },
  };
}
export type GenerationRepository = ReturnType<typeof createGenerationRepository>;
