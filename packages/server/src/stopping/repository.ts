import { StoppingPlan, type StoppingPlanInput } from "@tourney/core/contract";
import { UniqueConstraintError } from "sequelize";
import type { Database } from "../db/connection.js";
import type { StoppingPlanModel } from "../db/models/stopping-plan-model.js";

const toPlan = (row: StoppingPlanModel): StoppingPlan => {
  const { id, goal, mostBallots, looks, ballotsBefore, setAt, givenUpAt } = row;
  return StoppingPlan.parse({
    ...{ id, goal, mostBallots, looks, ballotsBefore },
    ...{ setAt: setAt.toISOString(), givenUpAt: givenUpAt?.toISOString() ?? null },
  });
};

/** Stopping plans of editions, of which one holds at most. */
export class StoppingRepository {
  constructor(private readonly db: Database) {}

  /** The newest first. */
  async list(editionId: string): Promise<StoppingPlan[]> {
    const order: [string, string][] = [
      ["set_at", "DESC"],
      ["id", "ASC"],
    ];
    return (await this.db.models.StoppingPlan.findAll({ where: { editionId }, order })).map(toPlan);
  }

  /** @returns null where another holds. */
  async add(editionId: string, input: StoppingPlanInput & { ballotsBefore: number }): Promise<StoppingPlan | null> {
    return unlessTaken(async () => toPlan(await this.db.models.StoppingPlan.create({ editionId, ...input })));
  }

  async find(id: string): Promise<StoppingPlan | null> {
    const row = await this.db.models.StoppingPlan.findByPk(id);
    return row && toPlan(row);
  }

  /** @returns null where another holds by now. */
  async setGivenUp(id: string, isGivenUp: boolean): Promise<StoppingPlan | null> {
    const row = await this.db.models.StoppingPlan.findByPk(id, { rejectOnEmpty: true });
    const givenUpAt = isGivenUp ? (row.givenUpAt ?? new Date()) : null;
    return unlessTaken(async () => toPlan(await row.update({ givenUpAt })));
  }
}

async function unlessTaken<T>(write: () => Promise<T>): Promise<T | null> {
  try {
    return await write();
  } catch (error) {
    if (error instanceof UniqueConstraintError) return null;
    throw error;
  }
}
