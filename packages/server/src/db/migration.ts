import type { Sequelize, Transaction } from "sequelize";

/** What a change of the schema works with. It and the note that it was made are one transaction: there is no half of it. */
export interface MigrationWork {
  context: Sequelize;
  transaction: Transaction;
}

/** One change of the schema, with its way back. */
export interface Migration {
  name: string;
  up: (work: MigrationWork) => Promise<void>;
  down: (work: MigrationWork) => Promise<void>;
}
