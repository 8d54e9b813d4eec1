import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, UUID_KEY, byDefault, optional, required } from "../define-table.js";

/** A group of voters, what it is shown and by which rules. */
export interface PanelModel extends Model<InferAttributes<PanelModel>, InferCreationAttributes<PanelModel>> {
  id: CreationOptional<string>;
  editionId: string;
  title: string;
  message: CreationOptional<string>;
  quota: number;
  token: string;
  sample: CreationOptional<boolean>;
  createdAt: CreationOptional<Date>;
  promptIds: CreationOptional<string[] | null>;
  entrantIds: CreationOptional<string[] | null>;
  closesAt: CreationOptional<Date | null>;
  asksReasons: CreationOptional<boolean>;
  brokenRule: CreationOptional<string>;
  linkClosedAt: CreationOptional<Date | null>;
  undeliveredRule: CreationOptional<string>;
  joinsRefused: CreationOptional<number>;
  /** What it puts against what. */
  contest: CreationOptional<string>;
  /** After how many mends, or after which turn, pages are shown, in the contests that are about those. */
  step: CreationOptional<number>;
  /** The entrant that stands on one side of every bout, to be placed among the others. */
  newcomerId: CreationOptional<string | null>;
}

export const definePanel = (sequelize: Sequelize) =>
  defineTable<PanelModel>(sequelize, "panels", {
    id: UUID_KEY,
    editionId: required(DataTypes.UUID),
    title: required(DataTypes.TEXT),
    message: byDefault(DataTypes.TEXT, ""),
    quota: required(DataTypes.INTEGER),
    token: required(DataTypes.TEXT),
    sample: byDefault(DataTypes.BOOLEAN, false),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    promptIds: optional(DataTypes.ARRAY(DataTypes.UUID)),
    entrantIds: optional(DataTypes.ARRAY(DataTypes.UUID)),
    closesAt: optional(DataTypes.DATE),
    asksReasons: byDefault(DataTypes.BOOLEAN, true),
    brokenRule: byDefault(DataTypes.TEXT, "pair"),
    linkClosedAt: optional(DataTypes.DATE),
    undeliveredRule: byDefault(DataTypes.TEXT, "lose"),
    joinsRefused: byDefault(DataTypes.INTEGER, 0),
    contest: byDefault(DataTypes.TEXT, "entrants"),
    step: byDefault(DataTypes.INTEGER, 1),
    newcomerId: optional(DataTypes.UUID),
  });
