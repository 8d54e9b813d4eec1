import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { byDefault, defineTable, optional, required } from "../define-table.js";

/** A model that fails at an endpoint, until it answers there again. */
export interface CircuitModel extends Model<InferAttributes<CircuitModel>, InferCreationAttributes<CircuitModel>> {
  endpointId: string;
  model: string;
  failures: CreationOptional<number>;
  countedAt: CreationOptional<Date>;
  openUntil: CreationOptional<Date | null>;
  reason: string;
}

export const defineCircuit = (sequelize: Sequelize) =>
  defineTable<CircuitModel>(sequelize, "circuits", {
    endpointId: { ...required(DataTypes.UUID), primaryKey: true },
    model: { ...required(DataTypes.TEXT), primaryKey: true },
    failures: byDefault(DataTypes.INTEGER, 1),
    countedAt: byDefault(DataTypes.DATE, literal("now()")),
    openUntil: optional(DataTypes.DATE),
    reason: required(DataTypes.TEXT),
  });
