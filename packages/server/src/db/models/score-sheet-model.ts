import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { byDefault, defineTable, optional, required, UUID_KEY } from "../define-table.js";

/** One person's judgement of one entry. It never enters a rating. */
export interface ScoreSheetModel extends Model<
  InferAttributes<ScoreSheetModel>,
  InferCreationAttributes<ScoreSheetModel>
> {
  id: CreationOptional<string>;
  entryId: string;
  judge: string;
  isBlind: boolean;
  watchpoints: unknown;
  verdict: CreationOptional<string | null>;
  marks: CreationOptional<number | null>;
  note: CreationOptional<string>;
  tags: unknown;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
}

export const defineScoreSheet = (sequelize: Sequelize) =>
  defineTable<ScoreSheetModel>(sequelize, "score_sheets", {
    id: UUID_KEY,
    entryId: required(DataTypes.UUID),
    judge: required(DataTypes.TEXT),
    isBlind: required(DataTypes.BOOLEAN),
    watchpoints: required(DataTypes.JSONB),
    verdict: optional(DataTypes.TEXT),
    marks: optional(DataTypes.INTEGER),
    note: byDefault(DataTypes.TEXT, ""),
    tags: required(DataTypes.JSONB),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    updatedAt: byDefault(DataTypes.DATE, literal("now()")),
  });
