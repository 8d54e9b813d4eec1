import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, optional, required } from "../define-table.js";

/** A one-time link by which the lead signs in, as a hash. */
export interface SignInLinkModel extends Model<
  InferAttributes<SignInLinkModel>,
  InferCreationAttributes<SignInLinkModel>
> {
  tokenHash: string;
  expiresAt: Date;
  usedAt: CreationOptional<Date | null>;
}

export const defineSignInLink = (sequelize: Sequelize) =>
  defineTable<SignInLinkModel>(sequelize, "sign_in_links", {
    tokenHash: { type: DataTypes.TEXT, primaryKey: true },
    expiresAt: required(DataTypes.DATE),
    usedAt: optional(DataTypes.DATE),
  });
