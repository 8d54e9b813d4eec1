import { resolveConnection } from "@tourney/store";
import { pino } from "pino";
import { readConfig } from "../config.js";
import { connectDatabase } from "../db/connection.js";
import { createKeyReader } from "../keys/keys.js";
import { createServices, type Services } from "../services.js";

/** The verbs that work on a running Tourney's database by its own services. */
export async function withServices(work: (services: Services) => Promise<void>): Promise<void> {
  const config = readConfig(process.env);
  const log = pino({ level: "warn" }, pino.destination(2));
  const connection = await resolveConnection(config.database);
  const db = await connectDatabase(connection, log);
  const services = createServices({ config, db, log, readKey: createKeyReader(process.env) });
  try {
    await work(services);
  } finally {
    services.readers.close();
    await services.counting.close();
    await db.close();
  }
}
