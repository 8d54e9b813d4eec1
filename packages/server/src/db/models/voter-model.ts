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

/** A person who votes, known by a token of which only the hash is stored. */
export interface VoterModel extends Model<InferAttributes<VoterModel>, InferCreationAttributes<VoterModel>> {
  id: CreationOptional<string>;
  panelId: string;
  tokenHash: string;
  name: CreationOptional<string>;
  sample: CreationOptional<boolean>;
  createdAt: CreationOptional<Date>;
  personalToken: CreationOptional<string | null>;
  isLead: CreationOptional<boolean>;
  revokedAt: CreationOptional<Date | null>;
  leftOutAt: CreationOptional<Date | null>;
  leftOutWhy: CreationOptional<string | null>;
  /** Tells apart where voters came from by the open link, and nothing else. */
  joinedFrom: CreationOptional<string | null>;
}

export const defineVoter = (sequelize: Sequelize) =>
  defineTable<VoterModel>(sequelize, "voters", {
    id: UUID_KEY,
    panelId: required(DataTypes.UUID),
    tokenHash: required(DataTypes.TEXT),
    name: byDefault(DataTypes.TEXT, ""),
    sample: byDefault(DataTypes.BOOLEAN, false),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    personalToken: optional(DataTypes.TEXT),
    isLead: byDefault(DataTypes.BOOLEAN, false),
    revokedAt: optional(DataTypes.DATE),
    leftOutAt: optional(DataTypes.DATE),
    leftOutWhy: optional(DataTypes.TEXT),
    joinedFrom: optional(DataTypes.TEXT),
  });
