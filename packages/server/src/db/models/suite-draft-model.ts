import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, byDefault, optional, required } from "../define-table.js";

/** The text that is being worked on for a suite's next edition, right or wrong. */
export interface SuiteDraftModel extends Model<
  InferAttributes<SuiteDraftModel>,
  InferCreationAttributes<SuiteDraftModel>
> {
  suiteKey: string;
  yaml: string;
  basedOn: CreationOptional<number | null>;
  savedAt: CreationOptional<Date>;
}

export const defineSuiteDraft = (sequelize: Sequelize) =>
  defineTable<SuiteDraftModel>(sequelize, "suite_drafts", {
    suiteKey: { type: DataTypes.TEXT, primaryKey: true },
    yaml: required(DataTypes.TEXT),
    basedOn: optional(DataTypes.INTEGER),
    savedAt: byDefault(DataTypes.DATE, literal("now()")),
  });
