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

/** A model at an endpoint, as it is set up now. `versionId` is the version that this set-up makes. */
export interface EntrantModel extends Model<InferAttributes<EntrantModel>, InferCreationAttributes<EntrantModel>> {
  id: CreationOptional<string>;
  key: string;
  name: string;
  maker: CreationOptional<string>;
  endpointId: string;
  model: string;
  settings: unknown;
  prices: unknown;
  glyph: number;
  sample: CreationOptional<boolean>;
  createdAt: CreationOptional<Date>;
  predecessorId: CreationOptional<string | null>;
  aliases: unknown;
  retiredAt: CreationOptional<Date | null>;
  versionId: string;
}

export const defineEntrant = (sequelize: Sequelize) =>
  defineTable<EntrantModel>(sequelize, "entrants", {
    id: UUID_KEY,
    key: required(DataTypes.TEXT),
    name: required(DataTypes.TEXT),
    maker: byDefault(DataTypes.TEXT, ""),
    endpointId: required(DataTypes.UUID),
    model: required(DataTypes.TEXT),
    settings: required(DataTypes.JSONB),
    prices: optional(DataTypes.JSONB),
    glyph: required(DataTypes.INTEGER),
    sample: byDefault(DataTypes.BOOLEAN, false),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    predecessorId: optional(DataTypes.UUID),
    aliases: byDefault(DataTypes.JSONB, []),
    retiredAt: optional(DataTypes.DATE),
    versionId: required(DataTypes.UUID),
  });
