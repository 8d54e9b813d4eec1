import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { byDefault, defineTable, optional, required, UUID_KEY } from "../define-table.js";

/** Standings as they were at a moment, under a name. A trigger refuses every change but that of being removed. */
export interface StandingsSnapshotModel extends Model<
  InferAttributes<StandingsSnapshotModel>,
  InferCreationAttributes<StandingsSnapshotModel>
> {
  id: CreationOptional<string>;
  editionId: string;
  name: string;
  counts: unknown;
  methodVersion: string;
  inputDigest: string;
  ballots: number;
  rows: unknown;
  /** The ballots that counted, each with its lean: gzipped JSON. */
  counted: Buffer;
  takenAt: CreationOptional<Date>;
  removedAt: CreationOptional<Date | null>;
}

export const defineStandingsSnapshot = (sequelize: Sequelize) =>
  defineTable<StandingsSnapshotModel>(sequelize, "standings_snapshots", {
    id: UUID_KEY,
    editionId: required(DataTypes.UUID),
    name: required(DataTypes.TEXT),
    counts: required(DataTypes.JSONB),
    methodVersion: required(DataTypes.TEXT),
    inputDigest: required(DataTypes.TEXT),
    ballots: required(DataTypes.INTEGER),
    rows: required(DataTypes.JSONB),
    counted: required(DataTypes.BLOB),
    takenAt: byDefault(DataTypes.DATE, literal("now()")),
    removedAt: optional(DataTypes.DATE),
  });
