import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type Sequelize,
} from "sequelize";
import { defineTable, UUID_KEY, required } from "../define-table.js";

/** One prompt of an edition, naming its three parts: its wording by id, its recipe and its briefing by digest. */
export interface PromptModel extends Model<InferAttributes<PromptModel>, InferCreationAttributes<PromptModel>> {
  id: CreationOptional<string>;
  editionId: string;
  key: string;
  position: number;
  kind: string;
  content: unknown;
  wordingId: string;
  recipeDigest: string;
  briefingDigest: string;
}

export const definePrompt = (sequelize: Sequelize) =>
  defineTable<PromptModel>(sequelize, "prompts", {
    id: UUID_KEY,
    editionId: required(DataTypes.UUID),
    key: required(DataTypes.TEXT),
    position: required(DataTypes.INTEGER),
    kind: required(DataTypes.TEXT),
    content: required(DataTypes.JSONB),
    wordingId: required(DataTypes.UUID),
    recipeDigest: required(DataTypes.TEXT),
    briefingDigest: required(DataTypes.TEXT),
  });
