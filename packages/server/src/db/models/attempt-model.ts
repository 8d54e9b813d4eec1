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

/** One request as it was sent, written down before and after. */
export interface AttemptModel extends Model<InferAttributes<AttemptModel>, InferCreationAttributes<AttemptModel>> {
  id: CreationOptional<string>;
  generationId: string;
  number: number;
  purpose: string;
  request: unknown;
  sentAt: CreationOptional<Date>;
  endedAt: CreationOptional<Date | null>;
  outcome: CreationOptional<string | null>;
  message: CreationOptional<string | null>;
  remedy: CreationOptional<string | null>;
  httpStatus: CreationOptional<number | null>;
  headers: unknown;
  text: CreationOptional<string>;
  reasoning: CreationOptional<string>;
  usage: unknown;
  /** Until the first token of any sort, reasoning included. */
  firstTokenMs: CreationOptional<number | null>;
  totalMs: CreationOptional<number | null>;
  finishReason: CreationOptional<string | null>;
  reportedModel: CreationOptional<string | null>;
  costUsd: CreationOptional<number | null>;
  costIsEstimate: CreationOptional<boolean>;
  /** Until the first token of the answer itself. */
  firstTextMs: CreationOptional<number | null>;
}

export const defineAttempt = (sequelize: Sequelize) =>
  defineTable<AttemptModel>(sequelize, "attempts", {
    id: UUID_KEY,
    generationId: required(DataTypes.UUID),
    number: required(DataTypes.INTEGER),
    purpose: required(DataTypes.TEXT),
    request: required(DataTypes.JSONB),
    sentAt: byDefault(DataTypes.DATE, literal("now()")),
    endedAt: optional(DataTypes.DATE),
    outcome: optional(DataTypes.TEXT),
    message: optional(DataTypes.TEXT),
    remedy: optional(DataTypes.TEXT),
    httpStatus: optional(DataTypes.INTEGER),
    headers: optional(DataTypes.JSONB),
    text: byDefault(DataTypes.TEXT, ""),
    reasoning: byDefault(DataTypes.TEXT, ""),
    usage: optional(DataTypes.JSONB),
    firstTokenMs: optional(DataTypes.DOUBLE),
    totalMs: optional(DataTypes.DOUBLE),
    finishReason: optional(DataTypes.TEXT),
    reportedModel: optional(DataTypes.TEXT),
    costUsd: optional(DataTypes.DOUBLE),
    costIsEstimate: byDefault(DataTypes.BOOLEAN, false),
    firstTextMs: optional(DataTypes.DOUBLE),
  });
