import {
  type CreationOptional,
  DataTypes,
  literal,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { byDefault, defineTable, optional } from "../define-table.js";

/** How many ballots a voter cast that are not voided and how many bouts it passed over, and the last transaction that changed what its ballots come to. Written by triggers. */
export interface CountedVoterModel extends Model<
  InferAttributes<CountedVoterModel>,
  InferCreationAttributes<CountedVoterModel>
> {
  voterId: string;
  changedIn: CreationOptional<string>;
  ballots: CreationOptional<number>;
  skipped: CreationOptional<number>;
  /** Voided or not. */
  lastBallotAt: CreationOptional<Date | null>;
}

export const defineCountedVoter = (sequelize: Sequelize) =>
  defineTable<CountedVoterModel>(sequelize, "counted_voters", {
    voterId: { type: DataTypes.UUID, primaryKey: true },
    changedIn: byDefault(DataTypes.BIGINT, literal("pg_current_xact_id()")),
    ballots: byDefault(DataTypes.INTEGER, 0),
    skipped: byDefault(DataTypes.INTEGER, 0),
    lastBallotAt: optional(DataTypes.DATE),
  });
