import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { byDefault, defineTable, optional, required, UUID_KEY } from "../define-table.js";

/** When an edition's ballots are enough, set before they were cast. */
export interface StoppingPlanModel extends Model<
  InferAttributes<StoppingPlanModel>,
  InferCreationAttributes<StoppingPlanModel>
> {
  id: CreationOptional<string>;
  editionId: string;
  goal: unknown;
  mostBallots: number;
  looks: number;
  ballotsBefore: number;
  setAt: CreationOptional<Date>;
  givenUpAt: CreationOptional<Date | null>;
}

export const defineStoppingPlan = (sequelize: Sequelize) =>
  defineTable<StoppingPlanModel>(sequelize, "stopping_plans", {
    id: UUID_KEY,
    editionId: required(DataTypes.UUID),
    goal: required(DataTypes.JSONB),
    mostBallots: required(DataTypes.INTEGER),
    looks: required(DataTypes.INTEGER),
    ballotsBefore: required(DataTypes.INTEGER),
    setAt: byDefault(DataTypes.DATE, literal("now()")),
    givenUpAt: optional(DataTypes.DATE),
  });
