import type { Redo, RedoRequest } from "@tourney/core/contract";
import type { WhereOptions } from "sequelize";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { INSERT_REDONE } from "../generations/generation-states.sql.js";
import { OVERTAKEN, RedoRow, SELECT_REDOS, TargetRow, TARGETS } from "./redo-queries.sql.js";

/** Redos, and the generations that they set aside and ask for. */
export class RedoRepository {
  constructor(private readonly db: Database) {}

  list(editionId: string): Promise<Redo[]> {
    return this.db.select(RedoRow, `${SELECT_REDOS} WHERE d.edition_id = $1 ORDER BY d.created_at DESC`, [editionId]);
  }

  async find(redoId: string): Promise<Redo | null> {
    const [row] = await this.db.select(RedoRow, `${SELECT_REDOS} WHERE d.id = $1`, [redoId]);
    return row ?? null;
  }

  listTargets(request: RedoRequest, transaction: Transaction) {
    const { editionId, promptId, entrantId, take, only } = request;
    const bind = [editionId, promptId ?? null, entrantId ?? null, take ?? null, only === "mismatched"];
    return this.db.select(TargetRow, TARGETS, bind, transaction);
  }

  async add(editionId: string, reason: string, transaction: Transaction): Promise<string> {
    return (await this.db.models.Redo.create({ editionId, reason }, { transaction })).id;
  }

  /** Sets generations aside for a redo. */
  async supersede(ids: readonly string[], redoId: string, transaction: Transaction): Promise<void> {
    await this.db.models.Generation.update(
      { supersededAt: new Date(), supersededBy: redoId },
      { where: { id: [...ids] }, transaction },
    );
  }

  /** Makes what a redo set aside anew; resolves with how many generations that are. */
  insertRedone(redoId: string, runId: string, transaction: Transaction): Promise<number> {
    return this.db.execute(INSERT_REDONE, [redoId, runId], transaction);
  }

  async dropRun(runId: string, transaction: Transaction): Promise<void> {
    await this.db.models.Run.destroy({ where: { id: runId }, transaction });
  }

  /** Marks a redo as undone; false when it was undone before. */
  async markUndone(redoId: string, transaction: Transaction): Promise<boolean> {
    const [changed] = await this.db.models.Redo.update(
      { undoneAt: new Date() },
      { where: { id: redoId, undoneAt: null }, transaction },
    );
    return changed === 1;
  }

  async isOvertaken(redoId: string, transaction: Transaction): Promise<boolean> {
    const [row] = await this.db.select(z.object({ n: z.int() }), OVERTAKEN, [redoId], transaction);
    return row!.n > 0;
  }

  /** Exchanges what a redo set aside and what it asked for. Resolves with the ids of both. */
  async exchange(redoId: string, transaction: Transaction): Promise<{ oldIds: string[]; newIds: string[] }> {
    const { Generation } = this.db.models;
    const listIds = async (where: WhereOptions) =>
      (await Generation.findAll({ where, attributes: ["id"], transaction })).map(({ id }) => id);
    const newIds = await listIds({ redoId, supersededAt: null });
    const oldIds = await listIds({ supersededBy: redoId });
    // What was asked for is set aside first: one answer holds in each place at any moment.
    await this.supersede(newIds, redoId, transaction);
    await Generation.update({ supersededAt: null, supersededBy: null }, { where: { id: oldIds }, transaction });
    return { oldIds, newIds };
  }
}
