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

/** One suite, under the key that its files name it by. */
export interface SuiteModel extends Model<InferAttributes<SuiteModel>, InferCreationAttributes<SuiteModel>> {
  id: CreationOptional<string>;
  key: string;
  title: string;
  sample: CreationOptional<boolean>;
  createdAt: CreationOptional<Date>;
  archivedAt: CreationOptional<Date | null>;
}

export const defineSuite = (sequelize: Sequelize) =>
  defineTable<SuiteModel>(sequelize, "suites", {
    id: UUID_KEY,
    key: required(DataTypes.TEXT),
    title: required(DataTypes.TEXT),
    sample: byDefault(DataTypes.BOOLEAN, false),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    archivedAt: optional(DataTypes.DATE),
  });
