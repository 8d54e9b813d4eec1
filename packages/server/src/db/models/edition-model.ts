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

/** A frozen, numbered list of prompts. A trigger refuses every change. */
export interface EditionModel extends Model<InferAttributes<EditionModel>, InferCreationAttributes<EditionModel>> {
  id: CreationOptional<string>;
  suiteId: string;
  number: number;
  digest: string;
  /** The suite file as it was frozen, in the version it had. */
  content: unknown;
  frozenAt: CreationOptional<Date>;
}

export const defineEdition = (sequelize: Sequelize) =>
  defineTable<EditionModel>(sequelize, "editions", {
    id: UUID_KEY,
    suiteId: required(DataTypes.UUID),
    number: required(DataTypes.INTEGER),
    digest: required(DataTypes.TEXT),
    content: required(DataTypes.JSONB),
    frozenAt: byDefault(DataTypes.DATE, literal("now()")),
  });
