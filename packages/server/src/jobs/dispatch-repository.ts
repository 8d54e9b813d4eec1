import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import {
  BudgetRow,
  BUDGETS,
  type Candidate,
  CandidateRow,
  CANDIDATES,
  type EndpointLoad,
  LoadRow,
  LOADS,
  LOCK,
  NEXT_DUE,
  PAUSED,
  PausedRow,
  PROBE,
} from "./dispatch-queries.sql.js";

/** What the `dispatch` job reads, all in its own transaction. */
export class DispatchRepository {
  constructor(private readonly db: Database) {}

  /** Makes dispatching processes take turns until the transaction ends. */
  async lock(transaction: Transaction): Promise<void> {
    await this.db.execute(LOCK, [], transaction);
  }

  listLoads(transaction: Transaction): Promise<EndpointLoad[]> {
    return this.db.select(LoadRow, LOADS, [], transaction);
  }

  /**
   * What an endpoint could be sent next. Of a model that was paused there for its failures, one is sent when the pause is over, to see; the
   * others follow when it was answered.
   *
   * @returns the candidates, at most `limit`, and in how many ms the first pause is over.
   */
  async listCandidates(
    endpointId: string,
    limit: number,
    transaction: Transaction,
  ): Promise<{ candidates: Candidate[]; openMs: number }> {
    const paused = await this.db.select(PausedRow, PAUSED, [endpointId], transaction);
    const probes: Candidate[] = [];
    for (const { model, openMs, isTried } of paused) {
      if (openMs > 0 || isTried || probes.length >= limit) continue;
      probes.push(...(await this.db.select(CandidateRow, PROBE, [endpointId, model], transaction)));
    }
    const models = paused.map(({ model }) => model);
    const others =
      limit > probes.length
        ? await this.db.select(CandidateRow, CANDIDATES, [endpointId, limit - probes.length, models], transaction)
        : [];
    const openMs = Math.min(...paused.filter((one) => one.openMs > 0).map((one) => one.openMs));
    return { candidates: [...probes, ...others], openMs };
  }

  /** Parts candidates into those that their runs' budgets cover, and the runs whose budget is reached. */
  async withinBudgets(candidates: readonly Candidate[], transaction: Transaction) {
    const runIds = [...new Set(candidates.map(({ runId }) => runId).filter((id) => id !== null))];
    const budgets = await this.db.select(BudgetRow, BUDGETS, [runIds], transaction);
    const left = new Map(budgets.map(({ id, budgetUsd, committedUsd }) => [id, budgetUsd! - committedUsd]));
    const admitted: string[] = [];
    const held = new Set<string>();
    for (const { id, runId, estimateUsd } of candidates) {
      const room = runId === null ? undefined : left.get(runId);
      if (room === undefined) admitted.push(id);
      else if (held.has(runId!)) continue;
      else if (estimateUsd > room || room <= 0) held.add(runId!);
      else {
        admitted.push(id);
        left.set(runId!, room - estimateUsd);
      }
    }
    return { admitted, held: [...held] };
  }

  /** Milliseconds until the next generation that waits for its time may be sent, or null. */
  async findNextDueMs(transaction: Transaction): Promise<number | null> {
    const [row] = await this.db.select(z.object({ dueInMs: z.number().nullable() }), NEXT_DUE, [], transaction);
    return row?.dueInMs ?? null;
  }
}
