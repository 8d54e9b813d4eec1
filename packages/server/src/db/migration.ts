import type { Sequelize } from "sequelize";
import type { MigrationParams } from "umzug";

/** One change of the schema, with its way back. */
export interface Migration {
  name: string;
  up: (params: MigrationParams<Sequelize>) => Promise<void>;
  down: (params: MigrationParams<Sequelize>) => Promise<void>;
}
