import {
  Attempt,
  type AttemptPurpose,
  type FailureCause,
  FollowUp,
  Prices,
  ReachedProtocol,
  RunOptions,
  Settings,
  type Usage,
  Wording,
} from "@tourney/core/contract";
import { AT_ENDPOINT } from "@tourney/core/generation";
import { fn, literal, Op } from "sequelize";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDate, isoDateOrNull } from "../db/row.js";
import type { GenerationStates, TakePlace } from "./generation-states-repository.js";
import {
  LOST_ATTEMPTS,
  LostAttemptRow,
  NOTE_FAILURE,
  NOTE_SUCCESS,
  READMIT_ALL,
  STORE_PARTS,
} from "./generation-queries.sql.js";

const ClaimedRow = z.object({
  id: z.uuid(),
  tries: z.int(),
  runId: z.uuid().nullable(),
  run: z.object({ options: z.object({ options: RunOptions.prefault({}) }) }).nullish(),
  take: z.int(),
  turn: z.int(),
  round: z.int(),
  followUp: FollowUp.nullable(),
  queuedAt: isoDate,
  wordingId: z.uuid(),
  versionId: z.uuid(),
  endpointId: z.uuid(),
  wording: z.object({ content: Wording }),
  version: z.object({ model: z.string(), settings: Settings }),
  entrant: z.object({ versionId: z.uuid(), settings: Settings, prices: Prices.nullable() }),
  endpoint: z.object({
    protocol: ReachedProtocol,
    baseUrl: z.string(),
    keyVariable: z.string().nullable(),
  }),
});

/** A generation that this process may send, with all it needs. */
/** A model where it is reached: what fails and is paused together. */
interface AtEndpoint {
  endpointId: string;
  model: string;
}

export interface ClaimedGeneration extends TakePlace {
  id: string;
  /** It was being sent already when a process died. */
  wasRunning: boolean;
  tries: number;
  runId: string | null;
  options: RunOptions;
  turn: number;
  round: number;
  followUp: FollowUp | null;
  queuedAt: string;
  wording: Wording;
  model: string;
  settings: Settings;
  prices: Prices | null;
  endpointId: string;
  endpoint: z.infer<typeof ClaimedRow>["endpoint"];
}

const AttemptRow = z.object({
  ...Attempt.omit({ sentAt: true, endedAt: true }).shape,
  id: z.uuid(),
  text: z.string(),
  reasoning: z.string(),
  sentAt: isoDate,
  endedAt: isoDateOrNull,
});
export type AttemptRow = z.infer<typeof AttemptRow>;

const AnsweredRow = z.object({ turn: z.int(), round: z.int(), answer: z.string(), followUp: FollowUp.nullable() });
export type AnsweredRow = z.infer<typeof AnsweredRow>;

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
  firstTextMs: number | null;
  totalMs: number | null;
  finishReason: string | null;
  reportedModel: string | null;
  costUsd: number | null;
  costIsEstimate: boolean;
}

/** Generations as they are sent, and their requests. */
export class GenerationRepository {
  constructor(
    private readonly db: Database,
    private readonly states: GenerationStates,
  ) {}

  /** Marks a generation as being sent; null when it is no longer to be sent. */
  claim(generationId: string): Promise<ClaimedGeneration | null> {
    return this.db.transact(async (transaction) => {
      const sent = await this.states.send(generationId, transaction);
      return sent && { ...(await this.read(generationId, transaction)), ...sent };
    });
  }

  private async read(id: string, transaction: Transaction): Promise<Omit<ClaimedGeneration, "wasRunning">> {
    const { Endpoint, Entrant, EntrantVersion, Generation, Run, Wording: WordingTable } = this.db.models;
    const found = await Generation.findByPk(id, {
      include: [
        { model: Run, as: "run", attributes: ["options"] },
        { model: WordingTable, as: "wording", attributes: ["content"] },
        { model: EntrantVersion, as: "version", attributes: ["model", "settings"] },
        { model: Entrant, as: "entrant", attributes: ["versionId", "settings", "prices"] },
        { model: Endpoint, as: "endpoint", attributes: ["protocol", "baseUrl", "keyVariable"] },
      ],
      transaction,
    });
    const { run, wording, version, entrant, ...row } = ClaimedRow.parse(found!.get({ plain: true }));
    // Time limits are no part of a version: the present ones hold.
    const { timeLimits } = entrant.settings;
    return {
      ...row,
      options: run?.options.options ?? RunOptions.parse({}),
      wording: wording.content,
      model: version.model,
      settings: { ...version.settings, timeLimits },
      prices: entrant.prices,
    };
  }

  async listAttempts(generationId: string): Promise<AttemptRow[]> {
    const rows = await this.db.models.Attempt.findAll({
      where: { generationId },
      attributes: { include: [[fn("length", literal("text")), "textLength"]] },
      order: ["number"],
    });
    return rows.map((row) => AttemptRow.parse(row.get({ plain: true })));
  }

  /** What was asked and answered in the same take before this generation: earlier turns, then earlier rounds. */
  async listAnswered({ wordingId, versionId, take, turn, round }: ClaimedGeneration): Promise<AnsweredRow[]> {
    const before = [
      { turn: { [Op.lt]: turn }, round: 0 },
      { turn, round: { [Op.lt]: round } },
    ];
    const rows = await this.db.models.Generation.findAll({
      attributes: ["turn", "round", "answer", "followUp"],
      where: { wordingId, versionId, take, state: "answered", supersededAt: null, [Op.or]: before },
      order: ["turn", "round"],
    });
    return rows.map((row) => AnsweredRow.parse(row.get({ plain: true })));
  }

  /** Writes down a request before it is sent, so that no process can die without a trace of it. */
  beginAttempt(
    generationId: string,
    purpose: AttemptPurpose,
    request: unknown,
  ): Promise<{ id: string; number: number; sentAt: string }> {
    const { Attempt: AttemptTable, Generation } = this.db.models;
    return this.db.transact(async (transaction) => {
      const number = (await AttemptTable.count({ where: { generationId }, transaction })) + 1;
      const { id, sentAt } = await AttemptTable.create(
        { generationId, number, purpose, request, sentAt: new Date() },
        { transaction },
      );
      await Generation.update({ attempts: number }, { where: { id: generationId }, transaction });
      return { id, number, sentAt: sentAt.toISOString() };
    });
  }

  endAttempt(id: string, { request, ...ended }: EndedAttempt): Promise<void> {
    const { Attempt: AttemptTable, StreamPart } = this.db.models;
    const sent = request === null || request === undefined ? {} : { request };
    return this.db.transact(async (transaction) => {
      await AttemptTable.update(
        { ...ended, ...sent, endedAt: new Date() },
        { where: { id, endedAt: null }, transaction },
      );
      await StreamPart.destroy({ where: { attemptId: id }, transaction });
    });
  }

  /** Requests that a dead process left open, with what it had stored of their streams. */
  listLostAttempts(generationId: string): Promise<z.infer<typeof LostAttemptRow>[]> {
    return this.db.select(LostAttemptRow, LOST_ATTEMPTS, [generationId]);
  }

  async storeParts(parts: readonly { attemptId: string; number: number; text: string }[]): Promise<void> {
    const columns = [
      parts.map(({ attemptId }) => attemptId),
      parts.map(({ number }) => number),
      parts.map(({ text }) => text),
    ];
    await this.db.execute(STORE_PARTS, columns);
  }

  /** A model answered at an endpoint: its failures are forgotten. */
  async noteSuccess({ endpointId, model }: AtEndpoint, transaction: Transaction): Promise<void> {
    await this.db.execute(NOTE_SUCCESS, [endpointId, model], transaction);
  }

  /** Counts a model's failures in a row at an endpoint, and pauses it there when there are too many. */
  async noteFailure(
    { endpointId, model }: AtEndpoint,
    { reason, sentAt, threshold, pauseMs }: { reason: string; sentAt: string; threshold: number; pauseMs: number },
    transaction: Transaction,
  ): Promise<void> {
    await this.db.execute(NOTE_FAILURE, [endpointId, model, threshold, pauseMs, reason, sentAt], transaction);
  }

  /**
   * Hands out again everything that was being sent when a process ended, and that no other works on. Its jobs are made anew, because the queue
   * gives a job up after so many tries, and a process that is killed again and again must not use them up.
   */
  async readmitAll(): Promise<void> {
    await this.db.execute(READMIT_ALL, [AT_ENDPOINT]);
  }

  /** Tells open pages that a run has moved. */
  async announce(runId: string | null): Promise<void> {
    if (runId !== null) await this.db.execute("SELECT pg_notify('tourney_runs', $1)", [runId]);
  }
}
