import { GenerateJob } from "@tourney/core/contract";
import { composeRequestText, computeCostUsd, planRetryMs, type RetryPolicy } from "@tourney/core/generation";
import type { Logger } from "pino";
import type { Database } from "../db/connection.js";
import type { ReadKey } from "../entrants/service.js";
import type { AddJob } from "../jobs/queue.js";
import { Semaphore } from "../jobs/semaphore.js";
import { callEndpoint } from "./call-endpoint.js";
import type { Answer, EndpointCall, NoAnswer } from "./endpoint-call.js";
import type { ClaimedGeneration, GenerationRepository } from "./repository.js";
import { KEY_MISSING } from "./test-connection.js";

export interface GenerateDeps {
  db: Database;
  generations: GenerationRepository;
  addJob: AddJob;
  readKey: ReadKey;
  retry: RetryPolicy;
  log: Logger;
}

export const generateJobKey = (generationId: string) => `generate:${generationId}`;
const extractJobKey = (generationId: string) => `extract:${generationId}`;

/**
 * The `generate` job: sends one generation and stores what came. Answer, cost and the next job are one transaction; a
 * process killed before it leaves the generation marked as running, and the queue hands it out again.
 */
export function createGenerateJob(deps: GenerateDeps) {
  const lanes = new Map<string, Semaphore>();
  const laneOf = ({ endpointId, concurrency }: ClaimedGeneration) => {
    const key = `${endpointId}:${concurrency}`;
    const lane = lanes.get(key) ?? new Semaphore(concurrency);
    lanes.set(key, lane);
    return lane;
  };
  return async (payload: unknown, shutdown: AbortSignal): Promise<void> => {
    const { generationId } = GenerateJob.parse(payload);
    const claimed = await deps.generations.claim(generationId);
    if (claimed === null) return;
    const result = await laneOf(claimed).run(() => send(claimed, deps, shutdown));
    // The process is stopping: leave the generation as it is, so that it is sent again on the next start.
    if (!result.ok && shutdown.aborted) throw new Error("Stopped while the endpoint was answering");
    if (result.ok) await storeAnswer(claimed, result, deps);
    else await storeFailure(claimed, result, deps);
  };
}

async function send(
  claimed: ClaimedGeneration,
  { readKey }: GenerateDeps,
  shutdown: AbortSignal,
): Promise<Answer | NoAnswer> {
  const key = claimed.keyVariable === null ? null : readKey(claimed.keyVariable);
  if (claimed.keyVariable !== null && key === null) {
    const message = `${claimed.keyVariable} is not set. ${KEY_MISSING[0]}`;
    return {
      ok: false,
      cause: "key_missing",
      message,
      remedy: KEY_MISSING[1],
      httpStatus: null,
      retryAfterMs: null,
      request: null,
    };
  }
  const call: EndpointCall = {
    baseUrl: claimed.baseUrl!,
    model: claimed.model,
    key,
    settings: claimed.settings,
    text: composeRequestText(claimed.prompt),
  };
  return callEndpoint(call, shutdown);
}

async function storeAnswer(
  { id, prices }: ClaimedGeneration,
  answer: Answer,
  { db, generations, addJob, log }: GenerateDeps,
): Promise<void> {
  const costUsd = computeCostUsd(answer.usage, prices);
  await db.transact(async (transaction) => {
    const isStored = await generations.storeAnswer(id, answer, costUsd, transaction);
    if (isStored) await addJob("extract", { generationId: id }, { key: extractJobKey(id), transaction });
  });
  log.info({ generationId: id, timings: answer.timings, costUsd }, "answered");
}

async function storeFailure({ id, attempts }: ClaimedGeneration, failed: NoAnswer, deps: GenerateDeps): Promise<void> {
  const { cause, message, remedy, httpStatus, retryAfterMs, request } = failed;
  const waitMs = planRetryMs({ cause, attempts, retryAfterMs }, deps.retry, Math.random);
  await deps.db.transact(async (transaction) => {
    const failure = { cause, message, remedy, httpStatus, at: new Date().toISOString() };
    const isStored = await deps.generations.storeFailure(
      id,
      { failure, request, willRetry: waitMs !== null },
      transaction,
    );
    if (!isStored || waitMs === null) return;
    await deps.addJob(
      "generate",
      { generationId: id },
      { key: generateJobKey(id), runAt: new Date(Date.now() + waitMs), transaction },
    );
  });
  deps.log.warn({ generationId: id, attempts, cause, message, waitMs }, "no answer");
}
