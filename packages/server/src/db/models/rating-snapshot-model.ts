import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, byDefault, optional, required } from "../define-table.js";

/** What the ballots of an edition came to at a moment. */
export interface RatingSnapshotModel extends Model<
  InferAttributes<RatingSnapshotModel>,
  InferCreationAttributes<RatingSnapshotModel>
> {
  editionId: string;
  kind: CreationOptional<string | null>;
  methodVersion: string;
  inputDigest: string;
  ballots: number;
  ratings: unknown;
  countedAt: CreationOptional<Date>;
}

export const defineRatingSnapshot = (sequelize: Sequelize) =>
  defineTable<RatingSnapshotModel>(sequelize, "rating_snapshots", {
    editionId: { type: DataTypes.UUID, primaryKey: true },
    kind: optional(DataTypes.TEXT),
    methodVersion: { type: DataTypes.TEXT, primaryKey: true },
    inputDigest: { type: DataTypes.TEXT, primaryKey: true },
    ballots: required(DataTypes.INTEGER),
    ratings: required(DataTypes.JSONB),
    countedAt: byDefault(DataTypes.DATE, literal("now()")),
  });
