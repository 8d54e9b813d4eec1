import pg from "pg";
import type { Logger } from "pino";
import { type DatabaseConnection, toClientConfig } from "@tourney/store/database-connection";

/** Jobs hold a connection only for a moment each. Sequelize has a pool of its own. */
const MOST_CONNECTIONS = 24;
/** Workers look for jobs every 30 s (`start-queue.ts`). A connection that is kept for longer need not be opened again each time. */
const IDLE_MS = 60_000;

/** Connections for the queue. One that breaks is logged and made anew when it is needed. */
export function openPool(connection: DatabaseConnection, log: Logger): pg.Pool {
  const pool = new pg.Pool({ ...toClientConfig(connection), max: MOST_CONNECTIONS, idleTimeoutMillis: IDLE_MS });
  pool.on("error", (error) => log.error({ err: error }, "a database connection broke"));
  pool.on("connect", (client) =>
    client.on("error", (error) => log.error({ err: error }, "a database connection broke")),
  );
  return pool;
}
