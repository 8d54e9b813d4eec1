import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, byDefault, required } from "../define-table.js";

/** An entry that the lead keeps from voters, and why. */
export interface BoothExclusionModel extends Model<
  InferAttributes<BoothExclusionModel>,
  InferCreationAttributes<BoothExclusionModel>
> {
  entryId: string;
  why: string;
  excludedAt: CreationOptional<Date>;
}

export const defineBoothExclusion = (sequelize: Sequelize) =>
  defineTable<BoothExclusionModel>(sequelize, "booth_exclusions", {
    entryId: { type: DataTypes.UUID, primaryKey: true },
    why: required(DataTypes.TEXT),
    excludedAt: byDefault(DataTypes.DATE, literal("now()")),
  });
