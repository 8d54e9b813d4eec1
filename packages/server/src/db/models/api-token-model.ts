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

/** What lets a script call the API, known by a token of which only the hash is stored. */
export interface ApiTokenModel extends Model<InferAttributes<ApiTokenModel>, InferCreationAttributes<ApiTokenModel>> {
  id: CreationOptional<string>;
  name: string;
  tokenHash: string;
  scopes: unknown;
  createdAt: CreationOptional<Date>;
  lastUsedAt: CreationOptional<Date | null>;
  revokedAt: CreationOptional<Date | null>;
}

export const defineApiToken = (sequelize: Sequelize) =>
  defineTable<ApiTokenModel>(sequelize, "api_tokens", {
    id: UUID_KEY,
    name: required(DataTypes.TEXT),
    tokenHash: required(DataTypes.TEXT),
    scopes: required(DataTypes.JSONB),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    lastUsedAt: optional(DataTypes.DATE),
    revokedAt: optional(DataTypes.DATE),
  });
