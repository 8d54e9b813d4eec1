import { DataTypes, type InferAttributes, type InferCreationAttributes, type Model, type Sequelize } from "sequelize";
import { defineTable, required } from "../define-table.js";

/** What came of a stream that has not ended yet. */
export interface StreamPartModel extends Model<
  InferAttributes<StreamPartModel>,
  InferCreationAttributes<StreamPartModel>
> {
  attemptId: string;
  number: number;
  text: string;
}

export const defineStreamPart = (sequelize: Sequelize) =>
  defineTable<StreamPartModel>(sequelize, "stream_parts", {
    attemptId: { type: DataTypes.UUID, primaryKey: true },
    number: { type: DataTypes.INTEGER, primaryKey: true },
    text: required(DataTypes.TEXT),
  });
