import { describeError, toTourneyError } from "@tourney/core/errors";
import { resolveConnection, stopOnSignals } from "@tourney/store";
import { pino } from "pino";
import { readConfig } from "./config.js";
import { connectDatabase } from "./db/connection.js";
import { requireSchema } from "./db/migrate.js";
import { openPool } from "./jobs/pool.js";
import { startQueue } from "./jobs/start-queue.js";
import { createKeyReader } from "./keys/keys.js";
import { createServices } from "./services.js";

/**
 * A process that works on the queue and serves nothing: it asks models and takes artifacts out of their answers, on this host or
 * another, against the same database and blob store. The server migrates; this one only joins in.
 */
async function main(): Promise<void> {
  const config = readConfig(process.env);
  const log = pino({ level: config.logLevel, redact: ["*.apiKey"] });
  const readKey = createKeyReader(process.env);
  const connection = await resolveConnection(config.database);
  const db = await connectDatabase(connection, log);
  await requireSchema(db.sequelize, log);
  const pool = openPool(connection, log);
  const services = createServices({ config, db, log, readKey });
  const queue = await startQueue({ kind: "generate", capacity: config.generations, pool, db, services, log });
  log.info({ capacity: config.generations }, "ready");
  process.send?.({ type: "ready" });

  stopOnSignals(async () => {
    log.info("finishing what has begun");
    await queue.stop();
    services.readers.close();
    await services.counting.close();
    await pool.end();
    await db.close();
  });
}

main().catch((thrown: unknown) => {
  console.error(describeError(toTourneyError(thrown)));
  process.exit(1);
});
