import { mkdir, rm } from "node:fs/promises";
import { createServer, type Server } from "node:http";
import { promisify } from "node:util";
import { describeError, toTourneyError, TourneyError } from "@tourney/core/errors";
import { resolveConnection, stopOnSignals } from "@tourney/store";
import { pino } from "pino";
import { createAside } from "./aside/aside.js";
import { createApp, incomingDir } from "./app.js";
import { ballotsDirOf, readConfig } from "./config.js";
import { connectDatabase } from "./db/connection.js";
import { migrate } from "./db/migrate.js";
import { createExhibitApp } from "./exhibit/exhibit-app.js";
import { closeFeeds, createFeeds } from "./feed/feeds.js";
import { createKeyReader } from "./keys/keys.js";
import { createServices } from "./services.js";
import { openPool } from "./jobs/pool.js";
import { Lull } from "./http/lull.js";
import { keepReadAhead } from "./read-ahead.js";
import { startQueue } from "./jobs/start-queue.js";

/** Proxies in front keep a connection that nobody uses for a minute: if it were ended here before, it might be just when they send over it. */
const KEPT_OPEN_MS = 75_000;

async function listen(app: Parameters<typeof createServer>[1], port: number, host: string): Promise<Server> {
  const server = createServer(app);
  server.keepAliveTimeout = KEPT_OPEN_MS;
  await new Promise<void>((resolve, reject) => {
    server.once("error", (cause: NodeJS.ErrnoException) =>
      reject(
        new TourneyError("SETUP_FAILED", {
          message: `Port ${port} cannot be listened on (${cause.code ?? cause.message}).`,
          reason: "Another program holds it, or it may not be used here.",
          remedy: "Stop the other program, or start Tourney again: it chooses free ports.",
          cause,
        }),
      ),
    );
    server.listen(port, host, resolve);
  });
  return server;
}

const readKey = createKeyReader(process.env);

async function main(): Promise<void> {
  const config = readConfig(process.env);
  const log = pino({ level: config.logLevel, redact: ["req.headers.cookie", "err.requestBodyValues", "*.apiKey"] });
  await mkdir(config.dataDir, { recursive: true });
  // Left by a process that ended while it read them.
  await rm(incomingDir(config), { recursive: true, force: true });
  const connection = await resolveConnection(config.database);
  const db = await connectDatabase(connection, log);
  const pool = openPool(connection, log);
  await migrate({ sequelize: db.sequelize, pool, log }, config.renderRole);
  const services = createServices({ config, db, log, readKey });
  const feeds = createFeeds({ pool, log, services });
  const lull = new Lull();
  const aside = createAside({ db, changes: feeds.changes, ballotsDir: ballotsDirOf(config) });
  const servers = [
    await listen(createApp({ config, pool, log, services, feeds, aside, lull }), config.appPort, config.listen),
    await listen(createExhibitApp({ ...services, ...config, log }), config.exhibitPort, config.listen),
  ];
  const runner = await startQueue({
    kind: "server",
    capacity: config.generations,
    pool,
    db,
    services,
    log,
  });
  log.info({ app: config.appOrigin, exhibits: config.exhibitOrigin }, "ready");
  process.send?.({ type: "ready" });
  const stopping = new AbortController();
  void keepReadAhead({ ...services, feeds, aside, lull, log }, stopping.signal);

  stopOnSignals(async () => {
    log.info("stopping");
    stopping.abort();
    closeFeeds(feeds);
    for (const server of servers) server.closeAllConnections();
    await Promise.all(servers.map((server) => promisify(server.close.bind(server))()));
    await runner.stop();
    services.readers.close();
    await Promise.all([services.counting.close(), aside.close()]);
    await pool.end();
    await db.close();
  });
}

main().catch((thrown: unknown) => {
  console.error(describeError(toTourneyError(thrown)));
  process.exit(1);
});
