import { DataTypes, type InferAttributes, type InferCreationAttributes, type Model, type Sequelize } from "sequelize";
import { defineTable, required } from "../define-table.js";

/** A browser that is signed in. `connect-pg-simple` writes it. */
export interface SessionModel extends Model<InferAttributes<SessionModel>, InferCreationAttributes<SessionModel>> {
  sid: string;
  sess: unknown;
  expire: Date;
}

export const defineSession = (sequelize: Sequelize) =>
  defineTable<SessionModel>(sequelize, "sessions", {
    sid: { type: DataTypes.TEXT, primaryKey: true },
    sess: required(DataTypes.JSON),
    expire: required(DataTypes.DATE),
  });
