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

/** One recording of an entry, made by one recipe. */
export interface RenderModel extends Model<InferAttributes<RenderModel>, InferCreationAttributes<RenderModel>> {
  id: CreationOptional<string>;
  entryId: string;
  number: number;
  state: CreationOptional<string>;
  recording: unknown;
  error: CreationOptional<string | null>;
  createdAt: CreationOptional<Date>;
  finishedAt: CreationOptional<Date | null>;
  recipeDigest: string;
  /** Whether its page is blank, crashed or hung; the database computes it from the recording. */
  showsNothing: CreationOptional<boolean | null>;
  /** What is asked of all recordings at once; the database takes it from the recording, too. */
  rendererVersion: CreationOptional<string | null>;
  hasError: CreationOptional<boolean | null>;
  /** Its findings without notes. */
  faults: CreationOptional<unknown>;
  motion: CreationOptional<unknown>;
  middlePicture: CreationOptional<string | null>;
  /** The same for recordings whose frames are the same to the pixel. */
  likeness: CreationOptional<string | null>;
  /** What its page asks a machine for, in words. */
  needs: CreationOptional<unknown>;
}

export const defineRender = (sequelize: Sequelize) =>
  defineTable<RenderModel>(sequelize, "renders", {
    id: UUID_KEY,
    entryId: required(DataTypes.UUID),
    number: required(DataTypes.INTEGER),
    state: byDefault(DataTypes.TEXT, "queued"),
    recording: optional(DataTypes.JSONB),
    error: optional(DataTypes.TEXT),
    createdAt: byDefault(DataTypes.DATE, literal("now()")),
    finishedAt: optional(DataTypes.DATE),
    recipeDigest: required(DataTypes.TEXT),
    showsNothing: optional(DataTypes.BOOLEAN),
    rendererVersion: optional(DataTypes.TEXT),
    hasError: optional(DataTypes.BOOLEAN),
    faults: optional(DataTypes.JSONB),
    motion: optional(DataTypes.JSONB),
    middlePicture: optional(DataTypes.TEXT),
    likeness: optional(DataTypes.TEXT),
    needs: optional(DataTypes.JSONB),
  });
