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

/** What the voter answered. A trigger counts it; one that is voided stays and counts no more. */
export interface BallotModel extends Model<InferAttributes<BallotModel>, InferCreationAttributes<BallotModel>> {
  id: CreationOptional<string>;
  boutId: string;
  lean: number;
  leftWorks: boolean;
  rightWorks: boolean;
  reasons: unknown;
  note: CreationOptional<string>;
  dwellMs: number;
  castAt: CreationOptional<Date>;
  voidedAt: CreationOptional<Date | null>;
  voidReason: CreationOptional<string | null>;
  leftTouched: CreationOptional<boolean | null>;
  rightTouched: CreationOptional<boolean | null>;
  rendererVersion: CreationOptional<string | null>;
  maskVersion: CreationOptional<string | null>;
  voidedBy: CreationOptional<string | null>;
  /** Window, pointer and frame rate. */
  seenWith: unknown;
}

export const defineBallot = (sequelize: Sequelize) =>
  defineTable<BallotModel>(sequelize, "ballots", {
    id: UUID_KEY,
    boutId: required(DataTypes.UUID),
    lean: required(DataTypes.INTEGER),
    leftWorks: required(DataTypes.BOOLEAN),
    rightWorks: required(DataTypes.BOOLEAN),
    reasons: required(DataTypes.JSONB),
    note: byDefault(DataTypes.TEXT, ""),
    dwellMs: required(DataTypes.INTEGER),
    castAt: byDefault(DataTypes.DATE, literal("now()")),
    voidedAt: optional(DataTypes.DATE),
    voidReason: optional(DataTypes.TEXT),
    leftTouched: optional(DataTypes.BOOLEAN),
    rightTouched: optional(DataTypes.BOOLEAN),
    rendererVersion: optional(DataTypes.TEXT),
    maskVersion: optional(DataTypes.TEXT),
    voidedBy: optional(DataTypes.TEXT),
    seenWith: optional(DataTypes.JSONB),
  });
