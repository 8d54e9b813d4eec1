import pg from "pg";
import type { Logger } from "pino";
import type { DatabaseConfig } from "../config.js";

/** Jobs hold a connection only for a moment each. Sequelize has a pool of its own. */
const MOST_CONNECTIONS = 24;

/** Connections for the queue. One that breaks is logged and made anew when it is needed. */
export function openPool({ host, port, name, user, password }: DatabaseConfig, log: Logger): pg.Pool {
  const pool = new pg.Pool({ host, port, database: name, user, password, max: MOST_CONNECTIONS });
  pool.on("error", (error) => log.error({ err: error }, "a database connection broke"));
  pool.on("connect", (client) =>
    client.on("error", (error) => log.error({ err: error }, "a database connection broke")),
  );
  return pool;
}
