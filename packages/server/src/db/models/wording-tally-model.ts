import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, byDefault } from "../define-table.js";

/** Ballots counted by wording, the versions that met, and the lean. Written by triggers. */
export interface WordingTallyModel extends Model<
  InferAttributes<WordingTallyModel>,
  InferCreationAttributes<WordingTallyModel>
> {
  wordingId: string;
  leftVersionId: string;
  rightVersionId: string;
  lean: number;
  n: CreationOptional<number>;
  leftFailures: CreationOptional<number>;
  rightFailures: CreationOptional<number>;
  sampleN: CreationOptional<number>;
}

export const defineWordingTally = (sequelize: Sequelize) =>
  defineTable<WordingTallyModel>(sequelize, "wording_tallies", {
    wordingId: { type: DataTypes.UUID, primaryKey: true },
    leftVersionId: { type: DataTypes.UUID, primaryKey: true },
    rightVersionId: { type: DataTypes.UUID, primaryKey: true },
    lean: { type: DataTypes.INTEGER, primaryKey: true },
    n: byDefault(DataTypes.INTEGER, 0),
    leftFailures: byDefault(DataTypes.INTEGER, 0),
    rightFailures: byDefault(DataTypes.INTEGER, 0),
    sampleN: byDefault(DataTypes.INTEGER, 0),
  });
