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

/** Two entries of one wording put before one voter. `promptId` says which briefing the voter read. */
export interface BoutModel extends Model<InferAttributes<BoutModel>, InferCreationAttributes<BoutModel>> {
  id: CreationOptional<string>;
  voterId: string;
  promptId: string;
  leftEntryId: string;
  rightEntryId: string;
  ordinal: number;
  token: string;
  leftToken: string;
  rightToken: string;
  reason: string;
  issuedAt: CreationOptional<Date>;
  isRepeat: CreationOptional<boolean>;
  skippedAt: CreationOptional<Date | null>;
  skipReason: CreationOptional<string | null>;
  isAutomatic: CreationOptional<boolean>;
  wordingId: string;
  leftVersionId: string;
  rightVersionId: string;
  /** That of its panel: only bouts between entrants are rated. */
  contest: CreationOptional<string>;
  /** Which form of the entrant's page stood there, where a contest puts it against itself. */
  leftForm: CreationOptional<string>;
  rightForm: CreationOptional<string>;
  /** How its ballot leans that is not voided; null where it has none. Written by triggers. */
  castLean: CreationOptional<number | null>;
}

export const defineBout = (sequelize: Sequelize) =>
  defineTable<BoutModel>(sequelize, "bouts", {
    id: UUID_KEY,
    voterId: required(DataTypes.UUID),
    promptId: required(DataTypes.UUID),
    leftEntryId: required(DataTypes.UUID),
    rightEntryId: required(DataTypes.UUID),
    ordinal: required(DataTypes.INTEGER),
    token: required(DataTypes.TEXT),
    leftToken: required(DataTypes.TEXT),
    rightToken: required(DataTypes.TEXT),
    reason: required(DataTypes.TEXT),
    issuedAt: byDefault(DataTypes.DATE, literal("now()")),
    isRepeat: byDefault(DataTypes.BOOLEAN, false),
    skippedAt: optional(DataTypes.DATE),
    skipReason: optional(DataTypes.TEXT),
    isAutomatic: byDefault(DataTypes.BOOLEAN, false),
    wordingId: required(DataTypes.UUID),
    leftVersionId: required(DataTypes.UUID),
    rightVersionId: required(DataTypes.UUID),
    contest: byDefault(DataTypes.TEXT, "entrants"),
    leftForm: byDefault(DataTypes.TEXT, ""),
    rightForm: byDefault(DataTypes.TEXT, ""),
    castLean: optional(DataTypes.INTEGER),
  });
