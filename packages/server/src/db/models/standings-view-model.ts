import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { byDefault, defineTable, required, UUID_KEY } from "../define-table.js";

/** A choice of what counts in a suite's standings, under a name. */
export interface StandingsViewModel extends Model<
  InferAttributes<StandingsViewModel>,
  InferCreationAttributes<StandingsViewModel>
> {
  id: CreationOptional<string>;
  suiteId: string;
  name: string;
  counts: unknown;
  createdAt: CreationOptional<Date>;
}

export const defineStandingsView = (sequelize: Sequelize) =>
  defineTable<StandingsViewModel>(sequelize, "standings_views", {
    id: UUID_KEY,
    suiteId: required(DataTypes.UUID),
    name: required(DataTypes.TEXT),
    counts: required(DataTypes.JSONB),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
  });
