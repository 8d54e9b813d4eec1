import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, UUID_KEY, byDefault, optional, required } from "../define-table.js";

/** Where models are reached, with the limits that all processes share. */
export interface EndpointModel extends Model<InferAttributes<EndpointModel>, InferCreationAttributes<EndpointModel>> {
  id: CreationOptional<string>;
  protocol: string;
  baseUrl: CreationOptional<string | null>;
  keyVariable: CreationOptional<string | null>;
  concurrency: CreationOptional<number>;
  requestsPerMinute: CreationOptional<number | null>;
  tokensPerMinute: CreationOptional<number | null>;
}

export const defineEndpoint = (sequelize: Sequelize) =>
  defineTable<EndpointModel>(sequelize, "endpoints", {
    id: UUID_KEY,
    protocol: required(DataTypes.TEXT),
    baseUrl: optional(DataTypes.TEXT),
    keyVariable: optional(DataTypes.TEXT),
    concurrency: byDefault(DataTypes.INTEGER, 2),
    requestsPerMinute: optional(DataTypes.INTEGER),
    tokensPerMinute: optional(DataTypes.INTEGER),
  });
