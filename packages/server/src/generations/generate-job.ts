import { type AttemptPurpose, GenerateJob, type Outcome, type Usage, type Verdict } from "@tourney/core/contract";
import {
  computeCostUsd,
  CONTINUE_TEXT,
  composeMessages,
  ESTIMATE_DEFAULTS,
  outcomeOfAnswer,
  outcomeOfFailure,
  planFollowing,
  planRetryMs,
  type RetryPolicy,
} from "@tourney/core/generation";
import type { Room } from "@tourney/store";
import type { Logger } from "pino";
import type { Database } from "../db/connection.js";
import type { KeyRing } from "../keys/key-ring.js";
import { CIRCUIT_THRESHOLD } from "../jobs/dispatch-job.js";
import type { AddJob } from "../jobs/queue.js";
import type { Readers } from "../reading/readers.js";
import { withoutFiles } from "../reading/without-files.js";
import { callEndpoint } from "./call-endpoint.js";
import { type Answer, type EndpointCall, type Message, type NoAnswer, NOTHING_RECEIVED } from "./endpoint-call.js";
import type { GenerationStates } from "./generation-states-repository.js";
import type { AnsweredRow, AttemptRow, ClaimedGeneration, EndedAttempt, GenerationRepository } from "./repository.js";
import { StreamJournal } from "./stream-journal.js";
import type { EndpointFetch } from "./endpoint-fetch.js";

export interface GenerateDeps {
  db: Database;
  generations: GenerationRepository;
  states: GenerationStates;
  addJob: AddJob;
  room: Room;
  readers: Readers;
  keyRing: KeyRing;
  endpointFetch: EndpointFetch;
  retry: RetryPolicy;
  /** How long an endpoint that fails in a row is paused the first time; doubled each time after. */
  circuitPauseMs: number;
  log: Logger;
}

const extractJobKey = (generationId: string) => `extract:${generationId}`;

/**
 * The `generate` job: sends what is still to be sent for one generation and stores what came. Every request is written down
 * before it is sent and again when it has ended; the answer, its cost and the next job are one transaction. A process killed
 * at any instant leaves the generation marked as running, and the queue hands it out again: requests that had ended are not
 * repeated, and one that was in flight is recorded as lost.
 */
export function createGenerateJob(deps: GenerateDeps) {
  const journal = new StreamJournal((parts) => deps.generations.storeParts(parts), deps.log);
  return async (payload: unknown, shutdown: AbortSignal): Promise<void> => {
    const { generationId } = GenerateJob.parse(payload);
    const claimed = await deps.generations.claim(generationId);
    if (claimed === null) return;
    await deps.generations.announce(claimed.runId);
    const end = await new Sending(claimed, deps, journal).run(shutdown);
    // The process is stopping: leave the generation as it is, so that it goes on with the next start.
    if (end === "stopped") throw new Error("Stopped while the endpoint was answering");
    await deps.addJob("dispatch", {}, { key: "dispatch" });
    await deps.generations.announce(claimed.runId);
  };
}

/** What has come of a generation's requests so far. */
interface Progress {
  /** Parts of the answer, in order; the last may be cut at the limit. */
  parts: AttemptRow[];
  continuations: number;
  refusalRetries: number;
}

/** Works out from the requests that have ended where an answer stands: nothing else is remembered between processes. */
export function readProgress(attempts: readonly AttemptRow[]): Progress {
  const progress: Progress = { parts: [], continuations: 0, refusalRetries: 0 };
  for (const attempt of attempts) {
    if (attempt.purpose === "again") progress.parts = [];
    if (attempt.outcome !== "answered") continue;
    progress.parts.push(attempt);
    if (attempt.purpose === "continuation") progress.continuations++;
    if (attempt.purpose === "again") progress.refusalRetries++;
  }
  return progress;
}

class Sending {
  constructor(
    private readonly claimed: ClaimedGeneration,
    private readonly deps: GenerateDeps,
    private readonly journal: StreamJournal,
  ) {}

  async run(shutdown: AbortSignal): Promise<"done" | "stopped"> {
    const { id, wasRunning } = this.claimed;
    const { generations } = this.deps;
    const wasLost = wasRunning && (await this.endLostAttempts());
    const answered = await generations.listAnswered(this.claimed);
    let isFirst = true;
    for (;;) {
      const attempts = await generations.listAttempts(id);
      const progress = readProgress(attempts);
      const next = await this.planNext(progress, attempts, isFirst && wasLost);
      if (next === null) {
        await this.storeAnswer(progress, attempts);
        return "done";
      }
      isFirst = false;
      const result = await this.send(
        next,
        composeRequest(this.claimed, answered, next === "again" ? [] : progress.parts),
        shutdown,
      );
      if (result === "stopped") return "stopped";
      if (!result.ok) {
        await this.storeFailure(result);
        return "done";
      }
    }
  }

  /** What to send now, or null when the answer is final. */
  private async planNext(
    { parts, ...used }: Progress,
    attempts: readonly AttemptRow[],
    wasLost: boolean,
  ): Promise<AttemptPurpose | null> {
    const last = parts.at(-1);
    const again = wasLost ? "repeat" : attempts.length === 0 ? "first" : "retry";
    if (last === undefined)
      return attempts.at(-1)?.purpose === "again" && attempts.at(-1)?.outcome !== "answered" ? "again" : again;
    const { verdict } = await this.extract(parts);
    const following = planFollowing(
      { verdict, finishReason: last.finishReason, hasText: last.text.trim() !== "" },
      used,
      this.claimed.options,
    );
    return following;
  }

  private async extract(
    parts: readonly AttemptRow[],
  ): Promise<{ verdict: Verdict; outcome: Outcome; detail: string | null }> {
    const { verdict, kind, ruleBreaks, trace } = await this.deps.readers
      .read("extract", {
        answer: parts.map(({ text }) => text),
        options: { stopReason: parts.at(-1)?.finishReason ?? null, rules: this.claimed.wording.rules },
      })
      .catch(withoutFiles);
    const last = parts.at(-1);
    const outcome = outcomeOfAnswer({ verdict, kind, ruleBreaks, finishReason: last?.finishReason ?? null });
    if (outcome === "truncated" && last?.text.trim() === "" && last.reasoning !== "")
      return { verdict, outcome, detail: ALL_REASONING };
    const isWhole = outcome === "answered";
    const detail =
      outcome === "wrong_thing" ? ruleBreaks[0]!.message : trace.findLast(({ action }) => action === "noted")?.why;
    return { verdict, outcome, detail: isWhole ? null : (detail ?? null) };
  }

  private async send(
    purpose: AttemptPurpose,
    messages: readonly Message[],
    shutdown: AbortSignal,
  ): Promise<Answer | NoAnswer | "stopped"> {
    const { generations, keyRing, endpointFetch: fetch } = this.deps;
    const { id, model, settings } = this.claimed;
    const { keyVariable, protocol, baseUrl } = this.claimed.endpoint;
    const taken = await keyRing.take(keyVariable, baseUrl);
    if ("refused" in taken) return keyRefused(taken.refused);
    const { key } = taken;
    const attempt = await generations.beginAttempt(id, purpose, { model, messages });
    const call: EndpointCall = { protocol, baseUrl, model, key, settings, messages };
    const result = await callEndpoint(call, { shutdown, fetch, onPart: (text) => this.journal.add(attempt.id, text) });
    if (!result.ok && shutdown.aborted) {
      await this.journal.flush();
      return "stopped";
    }
    await this.journal.end(attempt.id);
    await generations.endAttempt(attempt.id, this.toEnded(result, attempt.sentAt));
    return result;
  }

  /** @param sentAt a request costs what held when it was sent, however long its answer took. */
  private toEnded(result: Answer | NoAnswer, sentAt: string): EndedAttempt {
    const known = computeCostUsd(result.usage, this.claimed.prices, sentAt);
    // A stream that broke off cost something too, though nobody said how much.
    const isEstimate = known === null && result.text + result.reasoning !== "";
    const {
      text,
      reasoning,
      usage,
      firstTokenMs,
      firstTextMs,
      totalMs,
      finishReason,
      reportedModel,
      request,
      headers,
    } = result;
    return {
      ...{ text, reasoning, usage, firstTokenMs, firstTextMs, totalMs, finishReason, reportedModel, request, headers },
      outcome: result.ok ? "answered" : result.cause,
      message: result.ok ? null : result.message,
      remedy: result.ok ? null : result.remedy,
      httpStatus: result.ok ? 200 : result.httpStatus,
      costUsd: isEstimate
        ? this.estimateCost({
            sent: JSON.stringify(result.request ?? "").length,
            received: result.text.length + result.reasoning.length,
            sentAt,
          })
        : known,
      costIsEstimate: isEstimate,
    };
  }

  /** @param sent and `received` are counted in characters. */
  private estimateCost({ sent, received, sentAt }: { sent: number; received: number; sentAt: string }): number | null {
    const { charactersPerToken } = ESTIMATE_DEFAULTS;
    const usage: Usage = {
      inputTokens: Math.ceil(sent / charactersPerToken),
      outputTokens: Math.ceil(received / charactersPerToken),
      cachedInputTokens: null,
      reasoningTokens: null,
    };
    return computeCostUsd(usage, this.claimed.prices, sentAt);
  }

  /** Ends the requests that a dead process left open. Their cost is estimated: the endpoint may have billed them. */
  private async endLostAttempts(): Promise<boolean> {
    const { generations, log } = this.deps;
    const lost = await generations.listLostAttempts(this.claimed.id);
    for (const { id, text, sentAt } of lost) {
      await generations.endAttempt(id, {
        ...NOTHING_RECEIVED,
        outcome: "lost",
        message: "The process that had sent it ended before the answer was whole.",
        remedy: "It is sent again by itself.",
        httpStatus: null,
        text,
        totalMs: null,
        costUsd: this.estimateCost({
          sent: this.claimed.wording.text.length,
          received: text.length,
          sentAt: sentAt.toISOString(),
        }),
        costIsEstimate: true,
      });
      log.warn(
        { generationId: this.claimed.id, attemptId: id, characters: text.length },
        "a request was lost with its process",
      );
    }
    return lost.length > 0;
  }

  private async storeAnswer({ parts }: Progress, attempts: readonly AttemptRow[]): Promise<void> {
    const { db, generations, states, readers, addJob, log } = this.deps;
    const { id, endpointId, model, queuedAt, turn, round } = this.claimed;
    const { outcome, detail } = await this.extract(parts);
    const texts = parts.map(({ text }) => text);
    const answer = texts.length === 1 ? texts[0]! : await readers.read("join", texts);
    const costUsd = sumOrNull(attempts.map((attempt) => attempt.costUsd));
    const last = parts.at(-1)!;
    await db.transact(async (transaction) => {
      const isStored = await states.answer(
        id,
        {
          answer,
          reasoning: parts.map(({ reasoning }) => reasoning).join(""),
          usage: addUsage(attempts),
          timings: {
            queuedMs: Date.parse(attempts[0]!.sentAt) - Date.parse(queuedAt),
            firstTokenMs: parts[0]!.firstTokenMs,
            firstTextMs: parts[0]!.firstTextMs,
            totalMs: parts.reduce((sum, { totalMs }) => sum + (totalMs ?? 0), 0),
          },
          costUsd,
          finishReason: last.finishReason,
          reportedModel: last.reportedModel,
          request: last.request,
          outcome,
          outcomeDetail: detail,
        },
        transaction,
      );
      if (isStored) {
        await addJob("extract", { generationId: id }, { key: extractJobKey(id), transaction });
        const canGoOn = outcome === "answered" || outcome === "wrong_thing" || outcome === "truncated";
        if (round === 0 && canGoOn) await states.release(pickPlace(this.claimed), turn, transaction);
        else if (round === 0) await states.endLaterTurns(this.claimed, turn, transaction);
      }
      await generations.noteSuccess({ endpointId, model }, transaction);
    });
    log.info({ generationId: id, outcome, costUsd, requests: attempts.length }, "answered");
  }

  private async storeFailure(failed: NoAnswer): Promise<void> {
    const { db, generations, states, retry, circuitPauseMs, log } = this.deps;
    const { id, tries, endpointId, model, turn, round } = this.claimed;
    const { cause, message, remedy, httpStatus, retryAfterMs } = failed;
    const waitMs = planRetryMs({ cause, attempts: tries + 1, retryAfterMs }, retry, Math.random);
    const attempts = await generations.listAttempts(id);
    const costUsd = sumOrNull(attempts.map((attempt) => attempt.costUsd));
    await db.transact(async (transaction) => {
      const failure = { cause, message, remedy, httpStatus, at: new Date().toISOString() };
      await states.fail(id, { failure, costUsd, waitMs, outcome: outcomeOfFailure(cause) }, transaction);
      if (waitMs === null && round === 0) await states.endLaterTurns(this.claimed, turn, transaction);
      const isPassing = planRetryMs({ cause, attempts: 1, retryAfterMs: null }, retry, Math.random) !== null;
      const sentAt = attempts.at(-1)?.sentAt ?? new Date().toISOString();
      if (isPassing)
        await generations.noteFailure(
          { endpointId, model },
          { reason: message, sentAt, threshold: CIRCUIT_THRESHOLD, pauseMs: circuitPauseMs },
          transaction,
        );
    });
    log.warn({ generationId: id, tries: tries + 1, cause, message, waitMs }, "no answer");
  }
}

const ALL_REASONING =
  "Its reasoning used up the limit before the answer began. Raise the entrant's token limit, or let it reason less, and ask again.";

const pickPlace = ({ wordingId, versionId, take }: ClaimedGeneration) => ({ wordingId, versionId, take });

/** The whole conversation of a request: the turns and follow-ups before it, its own text, and what came of it so far. */
function composeRequest(
  { wording, turn, followUp }: ClaimedGeneration,
  answered: readonly AnsweredRow[],
  parts: readonly AttemptRow[],
): Message[] {
  const messages: Message[] = composeMessages({ wording, turn, answered, followUp });
  if (parts.length === 0) return messages;
  return [
    ...messages,
    ...parts.flatMap(({ text }): Message[] => [
      { role: "assistant", content: text },
      { role: "user", content: CONTINUE_TEXT },
    ]),
  ];
}

const sumOrNull = (values: readonly (number | null)[]): number | null => {
  const known = values.filter((value) => value !== null);
  return known.length === 0 ? null : known.reduce((sum, value) => sum + value, 0);
};

function addUsage(attempts: readonly AttemptRow[]): Usage {
  const sum = (key: keyof Usage) => sumOrNull(attempts.map(({ usage }) => usage?.[key] ?? null));
  return {
    inputTokens: sum("inputTokens"),
    outputTokens: sum("outputTokens"),
    cachedInputTokens: sum("cachedInputTokens"),
    reasoningTokens: sum("reasoningTokens"),
  };
}

const keyRefused = ({ message, remedy }: { message: string; remedy: string }): NoAnswer => ({
  ...NOTHING_RECEIVED,
  ok: false,
  cause: "key_missing",
  message,
  remedy,
  httpStatus: null,
  retryAfterMs: null,
});
