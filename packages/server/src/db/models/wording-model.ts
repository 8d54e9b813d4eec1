import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, UUID_KEY, byDefault, required } from "../define-table.js";

/** What models are sent for a prompt. It belongs to the suite: editions that keep it share its answers. A trigger refuses every change. */
export interface WordingModel extends Model<InferAttributes<WordingModel>, InferCreationAttributes<WordingModel>> {
  id: CreationOptional<string>;
  suiteId: string;
  /** The key of the prompt that it was first asked under. */
  key: string;
  digest: string;
  content: unknown;
  createdAt: CreationOptional<Date>;
}

export const defineWording = (sequelize: Sequelize) =>
  defineTable<WordingModel>(sequelize, "wordings", {
    id: UUID_KEY,
    suiteId: required(DataTypes.UUID),
    key: required(DataTypes.TEXT),
    digest: required(DataTypes.TEXT),
    content: required(DataTypes.JSONB),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
  });
