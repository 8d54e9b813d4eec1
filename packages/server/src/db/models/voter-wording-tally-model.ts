import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, byDefault } from "../define-table.js";

/** How many ballots a voter cast on a wording. Written by triggers. */
export interface VoterWordingTallyModel extends Model<
  InferAttributes<VoterWordingTallyModel>,
  InferCreationAttributes<VoterWordingTallyModel>
> {
  wordingId: string;
  voterId: string;
  n: CreationOptional<number>;
}

export const defineVoterWordingTally = (sequelize: Sequelize) =>
  defineTable<VoterWordingTallyModel>(sequelize, "voter_wording_tallies", {
    wordingId: { type: DataTypes.UUID, primaryKey: true },
    voterId: { type: DataTypes.UUID, primaryKey: true },
    n: byDefault(DataTypes.INTEGER, 0),
  });
