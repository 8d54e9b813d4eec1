import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  literal,
  type Model,
  type Sequelize,
} from "sequelize";
import { byDefault, defineTable, required } from "../define-table.js";

/** The host that a key was first sent to. Keys themselves are stored nowhere. */
export interface KeyBindingModel extends Model<
  InferAttributes<KeyBindingModel>,
  InferCreationAttributes<KeyBindingModel>
> {
  variable: string;
  host: string;
  boundAt: CreationOptional<Date>;
}

export const defineKeyBinding = (sequelize: Sequelize) =>
  defineTable<KeyBindingModel>(sequelize, "key_bindings", {
    variable: { ...required(DataTypes.TEXT), primaryKey: true },
    host: required(DataTypes.TEXT),
    boundAt: byDefault(DataTypes.DATE, literal("now()")),
  });
