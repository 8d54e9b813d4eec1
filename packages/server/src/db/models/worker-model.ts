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

/** A process that works on the queue, as it tells of itself. */
export interface WorkerModel extends Model<InferAttributes<WorkerModel>, InferCreationAttributes<WorkerModel>> {
  id: CreationOptional<string>;
  kind: string;
  host: string;
  place: string;
  pid: number;
  capacity: number;
  rendererVersion: CreationOptional<string | null>;
  queueIds: CreationOptional<string[]>;
  startedAt: CreationOptional<Date>;
  seenAt: CreationOptional<Date>;
}

export const defineWorker = (sequelize: Sequelize) =>
  defineTable<WorkerModel>(sequelize, "workers", {
    id: UUID_KEY,
    kind: required(DataTypes.TEXT),
    host: required(DataTypes.TEXT),
    place: required(DataTypes.TEXT),
    pid: required(DataTypes.INTEGER),
    capacity: required(DataTypes.INTEGER),
    rendererVersion: optional(DataTypes.TEXT),
    queueIds: byDefault(DataTypes.ARRAY(DataTypes.TEXT), []),
    startedAt: byDefault(DataTypes.DATE, literal("now()")),
    seenAt: byDefault(DataTypes.DATE, literal("now()")),
  });
