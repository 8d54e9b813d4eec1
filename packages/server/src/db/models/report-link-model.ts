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

/** A link by which somebody who is no lead reads a report on an edition, by one choice of what counts. */
export interface ReportLinkModel extends Model<
  InferAttributes<ReportLinkModel>,
  InferCreationAttributes<ReportLinkModel>
> {
  id: CreationOptional<string>;
  editionId: string;
  token: string;
  counts: unknown;
  createdAt: CreationOptional<Date>;
  withdrawnAt: CreationOptional<Date | null>;
}

export const defineReportLink = (sequelize: Sequelize) =>
  defineTable<ReportLinkModel>(sequelize, "report_links", {
    id: UUID_KEY,
    editionId: required(DataTypes.UUID),
    token: required(DataTypes.TEXT),
    counts: required(DataTypes.JSONB),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    withdrawnAt: optional(DataTypes.DATE),
  });
