import { randomUUID } from "node:crypto";
import type { Failure, Outcome } from "@tourney/core/contract";
import { type GenerationEvent, stateAfter, statesBefore } from "@tourney/core/generation";
import { literal, Op, type WhereOptions } from "sequelize";
import type { Database, Transaction } from "../db/connection.js";
import { ADMIT, END_LATER_TURNS, REQUEUE } from "./generation-states.sql.js";

/** The place of an answer, apart from its turn and round. */
export interface TakePlace {
  wordingId: string;
  versionId: string;
  take: number;
}

/** Where an answer by hand goes. */
export interface HandPlace extends TakePlace {
  entrantId: string;
  turn: number;
  requestedModel: string;
}

/** What is stored with an answer. */
export interface AnswerColumns {
  answer: string;
  reasoning: string | null;
  usage: unknown;
  timings: unknown;
  costUsd: number | null;
  finishReason: string | null;
  reportedModel: string | null;
  request: unknown;
  outcome: Outcome;
  outcomeDetail: string | null;
}

/**
 * The one writer of a generation's state. Each method is an event of its life (see `core/generation/life`), and changes nothing where that
 * event does not happen.
 */
export class GenerationStates {
  constructor(private readonly db: Database) {}

  /** Applies an event to the generations of a condition; resolves with how many it happened to. */
  private async apply(
    event: GenerationEvent,
    where: WhereOptions,
    columns: object,
    transaction: Transaction,
  ): Promise<number> {
    const [changed] = await this.db.models.Generation.update(
      { state: stateAfter(event), ...columns },
      { where: { [Op.and]: [where, { state: statesBefore(event) }] }, transaction },
    );
    return changed;
  }

  /** Marks a generation as being sent. Resolves with whether it was being sent already when a process died, or null when it is not to be sent. */
  async send(id: string, transaction: Transaction): Promise<{ wasRunning: boolean } | null> {
    const { Generation } = this.db.models;
    const where = { id, state: statesBefore("sent"), supersededAt: null };
    const row = await Generation.findOne({ where, attributes: ["id", "state"], lock: true, transaction });
    if (row === null) return null;
    const wasRunning = row.state === stateAfter("sent");
    await row.update({ state: stateAfter("sent") }, { transaction });
    return { wasRunning };
  }

  /** Stores the final answer. False when the generation was answered meanwhile. */
  async answer(id: string, columns: AnswerColumns, transaction: Transaction): Promise<boolean> {
    const answered = await this.apply(
      "answered",
      { id },
      { ...columns, answeredAt: literal("now()"), tries: 0 },
      transaction,
    );
    return answered === 1;
  }

  /** Lets the turn after an answered one begin. */
  async release(place: TakePlace, turn: number, transaction: Transaction): Promise<void> {
    const where = { ...place, turn: turn + 1, round: 0, supersededAt: null };
    await this.apply("released", where, { queuedAt: literal("now()") }, transaction);
  }

  /** Ends the turns after one that gave nothing to go on from. */
  async endLaterTurns(
    { wordingId, versionId, take }: TakePlace,
    turn: number,
    transaction: Transaction,
  ): Promise<void> {
    await this.db.execute(END_LATER_TURNS, [wordingId, versionId, take, turn], transaction);
  }

  /** Records a failure and what follows from it: to be sent again after a wait, or given up. */
  async fail(
    id: string,
    ended: { failure: Failure; costUsd: number | null; waitMs: number | null; outcome: Outcome },
    transaction: Transaction,
  ): Promise<void> {
    const { failure, costUsd, waitMs, outcome } = ended;
    const row = await this.db.models.Generation.findByPk(id, {
      attributes: ["failures", "tries"],
      lock: true,
      transaction,
    });
    const columns = {
      failures: [...((row?.failures as Failure[] | undefined) ?? []), failure],
      tries: (row?.tries ?? 0) + 1,
      costUsd,
    };
    if (waitMs === null)
      await this.apply(
        "failed",
        { id },
        { ...columns, notBefore: null, outcome, outcomeDetail: failure.message },
        transaction,
      );
    else
      await this.apply(
        "postponed",
        { id },
        { ...columns, notBefore: new Date(Date.now() + waitMs), outcome: null, outcomeDetail: null },
        transaction,
      );
  }

  /** Ends a generation with which our own side cannot go on; the lead sees it and can retry it. */
  async abandon(id: string, failure: Failure): Promise<void> {
    await this.db.transact(async (transaction) => {
      const row = await this.db.models.Generation.findByPk(id, { attributes: ["failures"], transaction });
      const failures = [...((row?.failures as Failure[] | undefined) ?? []), failure];
      const ended = { failures, outcome: "endpoint_down", outcomeDetail: failure.message };
      await this.apply("abandoned", { id }, ended, transaction);
    });
  }

  /** Admits generations to their endpoints and adds their jobs. */
  async admit(ids: readonly string[], transaction: Transaction): Promise<void> {
    if (ids.length > 0) await this.db.execute(ADMIT, [ids], transaction);
  }

  /** What a run that is paused had admitted but not sent waits again. */
  async recall(runId: string, transaction: Transaction): Promise<void> {
    await this.apply("recalled", { runId }, {}, transaction);
  }

  /** Holds everything of a run that is still to be sent: the budget does not cover it. */
  async hold(runId: string, transaction: Transaction): Promise<void> {
    const outcomeDetail = "The run's budget does not cover it.";
    await this.apply("held", { runId }, { outcome: "over_budget", outcomeDetail }, transaction);
  }

  /** Cancels what is not being sent yet. */
  async cancel(where: WhereOptions, transaction: Transaction, outcomeDetail: string | null = null): Promise<number> {
    return this.apply("cancelled", where, { outcome: "cancelled", outcomeDetail }, transaction);
  }

  /**
   * Makes what failed, was cancelled or held wait to be sent again.
   * @param ids these alone, with the later turns of their takes; null for all.
   * @returns how many wait again.
   */
  requeue(
    runId: string,
    { ids, only = statesBefore("requeued") }: { ids: readonly string[] | null; only?: readonly string[] },
    transaction: Transaction,
  ): Promise<number> {
    return this.db.execute(REQUEUE, [runId, only, ids], transaction);
  }

  /** Puts an answer fetched by hand where none is; resolves with its generation, or null when there is one already. */
  async addByHand(place: HandPlace, columns: Partial<AnswerColumns>, transaction: Transaction): Promise<string | null> {
    const { Generation } = this.db.models;
    const { wordingId, versionId, take, turn } = place;
    const where = { wordingId, versionId, take, turn, round: 0, supersededAt: null };
    const stored = { ...columns, byHand: true, outcome: null, outcomeDetail: null, answeredAt: new Date() };
    const known = await Generation.findOne({ where, attributes: ["id"], lock: true, transaction });
    if (known !== null)
      return (await this.apply("answered by hand", { id: known.id }, stored, transaction)) === 1 ? known.id : null;
    // One by itself is sent beside its statement; of several the text would be written into it, which takes long for a long answer.
    const id = randomUUID();
    await Generation.create(
      { id, ...place, ...stored, state: stateAfter("answered by hand") },
      { ignoreDuplicates: true, transaction },
    );
    // With duplicates ignored, one that lost against another import was not stored.
    return (await Generation.count({ where: { id }, transaction })) === 1 ? id : null;
  }
}
