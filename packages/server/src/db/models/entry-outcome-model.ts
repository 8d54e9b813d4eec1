import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, required } from "../define-table.js";

/**
 * A part of how many ballots between entrants leaned to an entry, away from it, and to neither: those that are not voided, without repeated bouts. All rows of an entry add up to that; a
 * voided ballot takes off what it had added. Written by triggers.
 */
export interface EntryOutcomeModel extends Model<
  InferAttributes<EntryOutcomeModel>,
  InferCreationAttributes<EntryOutcomeModel>
> {
  id: CreationOptional<string>;
  entryId: string;
  wordingId: string;
  won: number;
  lost: number;
  even: number;
}

export const defineEntryOutcome = (sequelize: Sequelize) =>
  defineTable<EntryOutcomeModel>(sequelize, "entry_outcomes", {
    id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
    entryId: required(DataTypes.UUID),
    wordingId: required(DataTypes.UUID),
    won: required(DataTypes.INTEGER),
    lost: required(DataTypes.INTEGER),
    even: required(DataTypes.INTEGER),
  });
