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

/** Who did what. Lines are only ever added. */
export interface AuditLineModel extends Model<
  InferAttributes<AuditLineModel>,
  InferCreationAttributes<AuditLineModel>
> {
  id: CreationOptional<string>;
  at: CreationOptional<Date>;
  actor: string;
  action: string;
  panelId: CreationOptional<string | null>;
  voterId: CreationOptional<string | null>;
  detail: unknown;
}

export const defineAuditLine = (sequelize: Sequelize) =>
  defineTable<AuditLineModel>(sequelize, "audit_trail", {
    id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
    at: byDefault(DataTypes.DATE, literal("now()")),
    actor: required(DataTypes.TEXT),
    action: required(DataTypes.TEXT),
    panelId: optional(DataTypes.UUID),
    voterId: optional(DataTypes.UUID),
    detail: byDefault(DataTypes.JSONB, {}),
  });
