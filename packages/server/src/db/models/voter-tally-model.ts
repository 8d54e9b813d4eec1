import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, byDefault } from "../define-table.js";

/** The same counts, apart by voter. Written by triggers. */
export interface VoterTallyModel extends Model<
  InferAttributes<VoterTallyModel>,
  InferCreationAttributes<VoterTallyModel>
> {
  wordingId: string;
  voterId: string;
  leftVersionId: string;
  rightVersionId: string;
  lean: number;
  n: CreationOptional<number>;
}

export const defineVoterTally = (sequelize: Sequelize) =>
  defineTable<VoterTallyModel>(sequelize, "voter_tallies", {
    wordingId: { type: DataTypes.UUID, primaryKey: true },
    voterId: { type: DataTypes.UUID, primaryKey: true },
    leftVersionId: { type: DataTypes.UUID, primaryKey: true },
    rightVersionId: { type: DataTypes.UUID, primaryKey: true },
    lean: { type: DataTypes.INTEGER, primaryKey: true },
    n: byDefault(DataTypes.INTEGER, 0),
  });
