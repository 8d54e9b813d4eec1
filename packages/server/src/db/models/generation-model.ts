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

/** One request to an endpoint and all that came back. At most one holds in each place: wording, version, take, turn, round. */
export interface GenerationModel extends Model<
  InferAttributes<GenerationModel>,
  InferCreationAttributes<GenerationModel>
> {
  id: CreationOptional<string>;
  runId: CreationOptional<string | null>;
  entrantId: string;
  take: number;
  byHand: CreationOptional<boolean>;
  state: string;
  attempts: CreationOptional<number>;
  requestedModel: string;
  request: unknown;
  answer: CreationOptional<string | null>;
  reasoning: CreationOptional<string | null>;
  usage: unknown;
  timings: unknown;
  costUsd: CreationOptional<number | null>;
  finishReason: CreationOptional<string | null>;
  reportedModel: CreationOptional<string | null>;
  failures: unknown;
  createdAt: CreationOptional<Date>;
  answeredAt: CreationOptional<Date | null>;
  turn: CreationOptional<number>;
  round: CreationOptional<number>;
  followUp: unknown;
  position: CreationOptional<number>;
  notBefore: CreationOptional<Date | null>;
  endpointId: CreationOptional<string | null>;
  estimateUsd: CreationOptional<number | null>;
  outcome: CreationOptional<string | null>;
  outcomeDetail: CreationOptional<string | null>;
  tries: CreationOptional<number>;
  queuedAt: CreationOptional<Date>;
  versionId: string;
  wordingId: string;
  mends: CreationOptional<number>;
  corrections: CreationOptional<number>;
  supersededAt: CreationOptional<Date | null>;
  /** The redo that set it aside. */
  supersededBy: CreationOptional<string | null>;
  /** The redo that asked for it. */
  redoId: CreationOptional<string | null>;
  /** Computed by the database from the two names of the model. */
  isMismatch: CreationOptional<boolean>;
  mismatchAcceptedAt: CreationOptional<Date | null>;
  handHelp: CreationOptional<string | null>;
  offTask: CreationOptional<string | null>;
}

export const defineGeneration = (sequelize: Sequelize) =>
  defineTable<GenerationModel>(sequelize, "generations", {
    id: UUID_KEY,
    runId: optional(DataTypes.UUID),
    entrantId: required(DataTypes.UUID),
    take: required(DataTypes.INTEGER),
    byHand: byDefault(DataTypes.BOOLEAN, false),
    state: required(DataTypes.TEXT),
    attempts: byDefault(DataTypes.INTEGER, 0),
    requestedModel: required(DataTypes.TEXT),
    request: optional(DataTypes.JSONB),
    answer: optional(DataTypes.TEXT),
    reasoning: optional(DataTypes.TEXT),
    usage: optional(DataTypes.JSONB),
    timings: optional(DataTypes.JSONB),
    costUsd: optional(DataTypes.DOUBLE),
    finishReason: optional(DataTypes.TEXT),
    reportedModel: optional(DataTypes.TEXT),
    failures: byDefault(DataTypes.JSONB, []),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    answeredAt: optional(DataTypes.DATE),
    turn: byDefault(DataTypes.INTEGER, 1),
    round: byDefault(DataTypes.INTEGER, 0),
    followUp: optional(DataTypes.JSONB),
    position: byDefault(DataTypes.INTEGER, 0),
    notBefore: optional(DataTypes.DATE),
    endpointId: optional(DataTypes.UUID),
    estimateUsd: optional(DataTypes.DOUBLE),
    outcome: optional(DataTypes.TEXT),
    outcomeDetail: optional(DataTypes.TEXT),
    tries: byDefault(DataTypes.INTEGER, 0),
    queuedAt: byDefault(DataTypes.DATE, literal("now()")),
    versionId: required(DataTypes.UUID),
    wordingId: required(DataTypes.UUID),
    mends: byDefault(DataTypes.INTEGER, 0),
    corrections: byDefault(DataTypes.INTEGER, 0),
    supersededAt: optional(DataTypes.DATE),
    supersededBy: optional(DataTypes.UUID),
    redoId: optional(DataTypes.UUID),
    isMismatch: { type: DataTypes.BOOLEAN },
    mismatchAcceptedAt: optional(DataTypes.DATE),
    handHelp: optional(DataTypes.TEXT),
    offTask: optional(DataTypes.TEXT),
  });
