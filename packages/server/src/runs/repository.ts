import type { RunInput, RunRequest, Unlike } from "@tourney/core/contract";
import { REPLANNABLE } from "@tourney/core/generation";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { toJson } from "../db/storable.js";
import { insertMissing } from "../generations/generation-states.sql.js";
import type { GenerationStates } from "../generations/generation-states-repository.js";
import {
  EARLIER,
  EarlierRow,
  END_PAUSES,
  ENDPOINTS,
  EndpointRow,
  ENTRANT_PROGRESS,
  EntrantProgressRow,
  FailureRow,
  FAILURES,
  KNOW_GENERATIONS,
  ORDERS,
  OutcomeRow,
  OUTCOMES,
  PACE,
  PaceRow,
  PLACES,
  PlacesRow,
  PROMPT_PROGRESS,
  PromptProgressRow,
  RunRow,
  SCOPE,
  SELECT_RUNS,
  WORTH_KNOWING,
} from "./run-queries.sql.js";

export interface NewRun extends RunInput {
  /** What one generation of an entrant will roughly cost, by entrant. */
  estimates: readonly { entrantId: string; usd: number | null }[];
  unlike: readonly Unlike[];
  /** What it is for, where that is not to fill places that are missing. */
  purpose?: "redo" | "mends" | "correction";
  /** The redo that it is made for. */
  redoId?: string;
}

/** Runs, and the generations they are made of. */
export class RunRepository {
  constructor(
    private readonly db: Database,
    private readonly states: GenerationStates,
  ) {}

  async find(runId: string, transaction?: Transaction) {
    const [run] = await this.db.select(RunRow, `${SELECT_RUNS} WHERE r.id = $1`, [runId], transaction);
    return run ?? null;
  }

  list(editionId: string) {
    return this.db.select(RunRow, `${SELECT_RUNS} WHERE r.edition_id = $1 ORDER BY r.number DESC`, [editionId]);
  }

  /** Makes generations for the cells and takes that have none yet; resolves with how many. */
  async addGenerations(
    runId: string,
    run: Pick<NewRun, "editionId" | "promptIds" | "entrantIds" | "takes" | "options" | "estimates" | "redoId">,
    transaction: Transaction,
  ): Promise<number> {
    const { takes, editionId, promptIds, entrantIds, estimates, options, redoId } = run;
    const added = await this.db.execute(
      insertMissing(ORDERS[options.order]),
      [runId, takes, editionId, promptIds, entrantIds, toJson(estimates), redoId ?? null],
      transaction,
    );
    if (added >= WORTH_KNOWING) await this.db.execute(KNOW_GENERATIONS, [], transaction);
    return added;
  }

  /** Makes a run of what is missing; resolves with its id and how many generations it has. */
  async create(input: NewRun, transaction: Transaction): Promise<{ runId: string; added: number }> {
    const runId = await this.createEmpty(input, transaction);
    return { runId, added: await this.addGenerations(runId, input, transaction) };
  }

  /** Makes a run without generations. */
  async createEmpty(
    input: Omit<NewRun, "promptIds" | "entrantIds" | "estimates">,
    transaction: Transaction,
  ): Promise<string> {
    const { editionId, takes, options, budgetUsd, acceptedWhy, unlike, purpose, redoId } = input;
    const { Edition, Run } = this.db.models;
    // The edition's row lock makes two plans take turns, so that run numbers have no gaps.
    await Edition.findByPk(editionId, { lock: transaction.LOCK.NO_KEY_UPDATE, transaction });
    const last = await Run.max<number | null, InstanceType<typeof Run>>("number", {
      where: { editionId },
      transaction,
    });
    const run = await Run.create(
      {
        editionId,
        number: (last ?? 0) + 1,
        takes,
        options: { options, acceptedWhy: acceptedWhy ?? null, unlike, purpose },
        budgetUsd: budgetUsd ?? null,
        redoId: redoId ?? null,
      },
      { transaction },
    );
    return run.id;
  }

  /** How many of the wanted cells and takes each entrant has already, as it is set up now. */
  listPlaces({
    editionId,
    promptIds,
    entrantIds,
    takes,
  }: Pick<RunRequest, "editionId" | "promptIds" | "entrantIds"> & { takes: number }) {
    return this.db.select(PlacesRow, PLACES, [entrantIds, promptIds, takes, editionId, REPLANNABLE]);
  }

  listEarlier(entrantIds: readonly string[]) {
    return this.db.select(EarlierRow, EARLIER, [entrantIds]);
  }

  /** The prompts that a run is over. */
  async findScope(runId: string, transaction: Transaction): Promise<string[]> {
    const rows = await this.db.select(z.object({ promptId: z.uuid() }), SCOPE, [runId], transaction);
    return rows.map(({ promptId }) => promptId);
  }

  /** Makes what failed, was cancelled or held wait again: all of it, or the given ones. */
  async requeue(runId: string, ids: readonly string[] | null, transaction: Transaction): Promise<number> {
    await this.db.models.Run.update({ cancelledAt: null }, { where: { id: runId }, transaction });
    return this.states.requeue(runId, { ids }, transaction);
  }

  /** Cancels what waits; what is being sent is let finish. */
  cancel(runId: string): Promise<void> {
    return this.db.transact(async (transaction) => {
      await this.db.models.Run.update(
        { cancelledAt: new Date(), pausedAt: null },
        { where: { id: runId }, transaction },
      );
      await this.states.cancel({ runId }, transaction);
    });
  }

  setPaused(runId: string, isPaused: boolean): Promise<void> {
    return this.db.transact(async (transaction) => {
      const pausedAt = isPaused ? new Date() : null;
      await this.db.models.Run.update({ pausedAt }, { where: { id: runId }, transaction });
      if (isPaused) await this.states.recall(runId, transaction);
    });
  }

  /** Sets a budget and lets what the former one held back wait again. */
  async setBudget(runId: string, budgetUsd: number | null, transaction: Transaction): Promise<void> {
    await this.db.models.Run.update({ budgetUsd }, { where: { id: runId }, transaction });
    await this.states.requeue(runId, { ids: null, only: ["held"] }, transaction);
  }

  listFailures(runId: string) {
    return this.db.select(FailureRow, FAILURES, [runId]);
  }

  listOutcomes(runId: string) {
    return this.db.select(OutcomeRow, OUTCOMES, [runId]);
  }

  listEntrantProgress(runId: string) {
    return this.db.select(EntrantProgressRow, ENTRANT_PROGRESS, [runId]);
  }

  listPromptProgress(runId: string) {
    return this.db.select(PromptProgressRow, PROMPT_PROGRESS, [runId]);
  }

  async findPace(runId: string) {
    const [row] = await this.db.select(PaceRow, PACE, [runId]);
    return row!;
  }

  listEndpoints(runId: string) {
    return this.db.select(EndpointRow, ENDPOINTS, [runId]);
  }

  /** @returns how many models were paused there. */
  endPauses(endpointId: string): Promise<number> {
    return this.db.execute(END_PAUSES, [endpointId]);
  }
}
