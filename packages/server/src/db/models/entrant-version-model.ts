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

/** One set-up of an entrant: endpoint, model and settings. Answers and ballots name it. */
export interface EntrantVersionModel extends Model<
  InferAttributes<EntrantVersionModel>,
  InferCreationAttributes<EntrantVersionModel>
> {
  id: CreationOptional<string>;
  entrantId: string;
  number: number;
  endpointId: string;
  model: string;
  settings: unknown;
  createdAt: CreationOptional<Date>;
}

export const defineEntrantVersion = (sequelize: Sequelize) =>
  defineTable<EntrantVersionModel>(sequelize, "entrant_versions", {
    id: UUID_KEY,
    entrantId: required(DataTypes.UUID),
    number: required(DataTypes.INTEGER),
    endpointId: required(DataTypes.UUID),
    model: required(DataTypes.TEXT),
    settings: required(DataTypes.JSONB),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
  });
