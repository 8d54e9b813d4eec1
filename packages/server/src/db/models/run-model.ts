import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, UUID_KEY, byDefault, optional, required } from "../define-table.js";

/** One batch of generations, with its options and budget. */
export interface RunModel extends Model<InferAttributes<RunModel>, InferCreationAttributes<RunModel>> {
  id: CreationOptional<string>;
  editionId: string;
  number: number;
  takes: number;
  createdAt: CreationOptional<Date>;
  cancelledAt: CreationOptional<Date | null>;
  options: unknown;
  budgetUsd: CreationOptional<number | null>;
  pausedAt: CreationOptional<Date | null>;
  redoId: CreationOptional<string | null>;
}

export const defineRun = (sequelize: Sequelize) =>
  defineTable<RunModel>(sequelize, "runs", {
    id: UUID_KEY,
    editionId: required(DataTypes.UUID),
    number: required(DataTypes.INTEGER),
    takes: required(DataTypes.INTEGER),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    cancelledAt: optional(DataTypes.DATE),
    options: byDefault(DataTypes.JSONB, {}),
    budgetUsd: optional(DataTypes.DOUBLE),
    pausedAt: optional(DataTypes.DATE),
    redoId: optional(DataTypes.UUID),
  });
