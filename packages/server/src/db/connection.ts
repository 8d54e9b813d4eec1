import { type DatabaseConnection, describeRefusal } from "@tourney/store/database-connection";
import type { Logger } from "pino";
import { QueryTypes, Sequelize, type Transaction } from "sequelize";
import type * as z from "zod";
import { type Connection, nameKeptPlans } from "./kept-plan.js";
import { defineModels, type Models } from "./models.js";
import { toStorableParameter } from "./storable.js";

export type { Transaction };

/** The database as repositories use it: models, statements whose rows are parsed, and transactions. */
export interface Database {
  sequelize: Sequelize;
  models: Models;
  /** Where it is, for whoever needs a connection of its own. */
  connection: DatabaseConnection;
  /** Rows of a query with bound parameters ($1, $2 …), each parsed by its schema. */
  select: <T>(row: z.ZodType<T>, sql: string, bind?: readonly unknown[], transaction?: Transaction) => Promise<T[]>;
  /**
   * Hands over the rows of a query as `select` reads them, `size` at a time, so that no more of them are in memory. What is read to understand them is to be read in the same
   * transaction: whoever waited for another connection while holding this one could wait for ever.
   */
  selectInPieces: <T>(query: RowQuery<T>, size: number, take: TakeRows<T>) => Promise<void>;
  /** Runs a statement; resolves with the number of rows it touched. */
  execute: (sql: string, bind?: readonly unknown[], transaction?: Transaction) => Promise<number>;
  transact: <T>(work: (transaction: Transaction) => Promise<T>) => Promise<T>;
  close: () => Promise<void>;
}

/** Takes some rows of a query, in the transaction in which they are read. */
export type TakeRows<T> = (rows: readonly T[], transaction?: Transaction) => Promise<void> | void;

/** A query with its bound parameters, and the schema of its rows. */
export interface RowQuery<T> {
  row: z.ZodType<T>;
  sql: string;
  bind: readonly unknown[];
}

/** On a new connection PostgreSQL reads its catalogue first: a search took 30 ms on one, and 17 from then on. A lead may look at one screen for minutes. */
const KEPT_OPEN_MS = 600_000;

/** Opens a pool of so many connections, whose statements end after a time if one is given. Resolves once the database answers. @throws TourneyError DATABASE_UNAVAILABLE */
export async function connectDatabase(
  connection: DatabaseConnection,
  log: Logger,
  { connections = 20, statementMs = 0 }: { connections?: number; statementMs?: number } = {},
): Promise<Database> {
  const sequelize = new Sequelize(connection.name, connection.user, connection.password, {
    dialect: "postgres",
    host: connection.host,
    port: connection.port,
    dialectOptions: { ssl: connection.ssl, ...(statementMs > 0 ? { statement_timeout: statementMs } : {}) },
    logging: (sql) => log.trace({ sql }, "query"),
    define: { underscored: true },
    pool: { max: connections, idle: KEPT_OPEN_MS },
    hooks: { afterConnect: (made) => nameKeptPlans(made as Connection) },
  });
  try {
    await sequelize.authenticate();
  } catch (cause) {
    // Sequelize wraps what the driver said.
    const said = cause instanceof Error && "parent" in cause ? cause.parent : cause;
    throw describeRefusal(connection, said);
  }
  const withTransaction = (transaction?: Transaction) => (transaction ? { transaction } : {});
  const select: Database["select"] = async (row, sql, bind = [], transaction) => {
    const rows = await sequelize.query(sql, {
      bind: bind.map(toStorableParameter),
      type: QueryTypes.SELECT,
      ...withTransaction(transaction),
    });
    return rows.map((item) => row.parse(item));
  };
  return {
    ...{ sequelize, connection, select },
    models: defineModels(sequelize),
    selectInPieces: ({ row, sql, bind }, size, take) =>
      sequelize.transaction(async (transaction) => {
        // All rows are wanted: the database would otherwise choose the plan that has the first ones soonest.
        await sequelize.query("SET LOCAL cursor_tuple_fraction = 1", { transaction });
        await sequelize.query(`DECLARE pieces NO SCROLL CURSOR FOR ${sql}`, {
          bind: bind.map(toStorableParameter),
          transaction,
        });
        for (;;) {
          const rows = await select(row, `FETCH ${size} FROM pieces`, [], transaction);
          if (rows.length > 0) await take(rows, transaction);
          if (rows.length < size) return;
        }
      }),
    execute: async (sql, bind = [], transaction) => {
      const [, meta] = await sequelize.query(sql, {
        bind: bind.map(toStorableParameter),
        ...withTransaction(transaction),
      });
      // Sequelize answers with the number itself for INSERT and UPDATE, and with the driver's result for the rest.
      return typeof meta === "number" ? meta : ((meta as { rowCount?: number | null } | undefined)?.rowCount ?? 0);
    },
    transact: (work) => sequelize.transaction(work),
    close: () => sequelize.close(),
  };
}
