import { Failure, Prices, PromptDefinition, Settings } from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import type { Answer } from "./endpoint-call.js";

const ClaimedRow = z.object({
  id: z.uuid(),
  attempts: z.int(),
  model: z.string(),
  settings: Settings,
  prices: Prices.nullable(),
  prompt: PromptDefinition,
  endpointId: z.uuid(),
  baseUrl: z.string().nullable(),
  keyVariable: z.string().nullable(),
  concurrency: z.int(),
});
/** A generation that this process may send, with all it needs. */
export type ClaimedGeneration = z.infer<typeof ClaimedRow>;

export function createGenerationRepository(db: Database) {
  return {
    /**
     * Marks a generation as sent and counts the attempt; null when it is no longer to be sent. One that is marked running
     * already was being sent when a process died: it is sent again, and the attempt counts.
     */
    async claim(generationId: string): Promise<ClaimedGeneration | null> {
      const [row] = await db.select(
        ClaimedRow,
        `UPDATE generations g SET state = 'running', attempts = g.attempts + 1
         FROM entrants n JOIN endpoints p ON p.id = n.endpoint_id, prompts q
         WHERE g.id = $1 AND g.state IN ('queued', 'running') AND n.id = g.entrant_id AND q.id = g.prompt_id
         RETURNING g.id, g.attempts, n.model, n.settings, n.prices, q.content AS prompt, p.id AS "endpointId",
           p.base_url AS "baseUrl", p.key_variable AS "keyVariable", p.concurrency`,
        [generationId],
      );
      return row ?? null;
    },
    /** Stores an answer. False when the generation was answered or cancelled meanwhile. */
    async storeAnswer(
      generationId: string,
      answer: Answer,
      costUsd: number | null,
      transaction: Transaction,
    ): Promise<boolean> {
      const stored = await db.execute(
        `UPDATE generations SET state = 'answered', answered_at = now(), answer = $2, reasoning = $3, usage = $4::jsonb,
           timings = $5::jsonb, cost_usd = $6, finish_reason = $7, reported_model = $8, request = $9::jsonb
         WHERE id = $1 AND state = 'running'`,
        [
          generationId,
          // PostgreSQL's text cannot hold NUL; a page never means one.
          answer.text.replaceAll("\0", "\ufffd"),
          answer.reasoning.replaceAll("\0", "\ufffd"),
          JSON.stringify(answer.usage),
          JSON.stringify(answer.timings),
          costUsd,
          answer.finishReason,
          answer.reportedModel,
          JSON.stringify(answer.request),
        ],
        transaction,
      );
      return stored === 1;
    },
    /** Records a failure and what follows from it: to be sent again, or given up. */
    async storeFailure(
      generationId: string,
      { failure, request, willRetry }: { failure: Failure; request: unknown; willRetry: boolean },
      transaction: Transaction,
    ): Promise<boolean> {
      const stored = await db.execute(
        `UPDATE generations SET state = $2, failures = failures || $3::jsonb, request = coalesce($4::jsonb, request)
         WHERE id = $1 AND state = 'running'`,
        [
          generationId,
          willRetry ? "queued" : "failed",
          JSON.stringify([failure]),
          request === null ? null : JSON.stringify(request),
        ],
        transaction,
      );
      return stored === 1;
    },
  };
}
export type GenerationRepository = ReturnType<typeof createGenerationRepository>;
