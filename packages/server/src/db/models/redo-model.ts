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

/** The lead's asking for takes again, with the reason. */
export interface RedoModel extends Model<InferAttributes<RedoModel>, InferCreationAttributes<RedoModel>> {
  id: CreationOptional<string>;
  editionId: string;
  reason: string;
  createdAt: CreationOptional<Date>;
  undoneAt: CreationOptional<Date | null>;
}

export const defineRedo = (sequelize: Sequelize) =>
  defineTable<RedoModel>(sequelize, "redos", {
    id: UUID_KEY,
    editionId: required(DataTypes.UUID),
    reason: required(DataTypes.TEXT),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    undoneAt: optional(DataTypes.DATE),
  });
