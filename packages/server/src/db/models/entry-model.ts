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

/** The artifact taken out of a generation. One that a person changed stands beside the one it was made from. */
export interface EntryModel extends Model<InferAttributes<EntryModel>, InferCreationAttributes<EntryModel>> {
  id: CreationOptional<string>;
  generationId: string;
  round: CreationOptional<number>;
  verdict: string;
  kind: string;
  entryPath: CreationOptional<string | null>;
  files: unknown;
  trace: unknown;
  createdAt: CreationOptional<Date>;
  facts: unknown;
  editedFrom: CreationOptional<string | null>;
  diff: CreationOptional<string | null>;
  stagePage: CreationOptional<object | null>;
}

export const defineEntry = (sequelize: Sequelize) =>
  defineTable<EntryModel>(sequelize, "entries", {
    id: UUID_KEY,
    generationId: required(DataTypes.UUID),
    round: byDefault(DataTypes.INTEGER, 0),
    verdict: required(DataTypes.TEXT),
    kind: required(DataTypes.TEXT),
    entryPath: optional(DataTypes.TEXT),
    files: required(DataTypes.JSONB),
    trace: required(DataTypes.JSONB),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    facts: byDefault(DataTypes.JSONB, { missing: [], remote: [], ruleBreaks: [], leaks: [] }),
    editedFrom: optional(DataTypes.UUID),
    diff: optional(DataTypes.TEXT),
    stagePage: optional(DataTypes.JSONB),
  });
