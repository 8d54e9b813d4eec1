import { mkdir } from "node:fs/promises";
import { createServer, type Server } from "node:http";
import { promisify } from "node:util";
import { describeError, toTourneyError, TourneyError } from "@tourney/core/errors";
import { type Runner, run } from "graphile-worker";
import pg from "pg";
import { type Logger, pino } from "pino";
import { createApp } from "./app.js";
import { type Config, readConfig } from "./config.js";
import { connectDatabase } from "./db/connection.js";
import { migrate } from "./db/migrate.js";
import { createExtractJob, createRenderFinishedJob } from "./entries/extract-job.js";
import { createExhibitApp } from "./exhibit/exhibit-app.js";
import { createGenerateJob } from "./generations/generate-job.js";
import { createDispatchJob } from "./jobs/dispatch-job.js";
import { RunFeed } from "./runs/run-feed.js";
import { createKeyReader } from "./keys.js";
import { forceUnlockAll, queueLogger } from "./jobs/runner.js";
import { createServices, type Services } from "./services.js";
import type { Database } from "./db/connection.js";

/** Of the queue: jobs hold a connection only for a moment each. Sequelize has a pool of its own. */
const MOST_CONNECTIONS = 24;
const CIRCUIT_PAUSE_MS = 15_000;
const RETRY = { maxAttempts: 5, firstDelayMs: 1000, longestDelayMs: 60_000 } as const;

async function listen(app: Parameters<typeof createServer>[1], port: number): Promise<Server> {
  const server = createServer(app);
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
    server.listen(port, "127.0.0.1", resolve);
  });
  return server;
}

function openPool({ database }: Config, log: Logger): pg.Pool {
  const pool = new pg.Pool({
    host: database.host,
    port: database.port,
    database: database.name,
    user: database.user,
    password: database.password,
    max: MOST_CONNECTIONS,
  });
  pool.on("error", (error) => log.error({ err: error }, "a database connection broke"));
  pool.on("connect", (client) =>
    client.on("error", (error) => log.error({ err: error }, "a database connection broke")),
  );
  return pool;
}

async function startQueue({
  config,
  pool,
  log,
  services,
  db,
}: {
  config: Config;
  pool: pg.Pool;
  log: Logger;
  services: Services;
  db: Database;
}): Promise<Runner> {
  const deps = { db, ...services, readKey, log };
  const generate = createGenerateJob({ ...deps, retry: RETRY, circuitPauseMs: CIRCUIT_PAUSE_MS });
  const dispatch = createDispatchJob(deps);
  const extract = createExtractJob(services.extractDeps);
  const renderFinished = createRenderFinishedJob({ ...services.extractDeps, mends: services.mends });
  await forceUnlockAll(pool, ["dispatch", "generate", "extract", "render-finished"]);
  await services.generations.readmitAll();
  await services.addJob("dispatch", {}, { key: "dispatch" });
  return run({
    pgPool: pool,
    concurrency: config.generations,
    noHandleSignals: true,
    parsedCronItems: [],
    pollInterval: 1000,
    logger: queueLogger(log),
    taskList: {
      dispatch,
      generate: (payload, { abortSignal }) => generate(payload, abortSignal),
      extract,
      "render-finished": renderFinished,
    },
  });
}

const readKey = createKeyReader(process.env);

async function main(): Promise<void> {
  const config = readConfig(process.env);
  const log = pino({ level: config.logLevel, redact: ["req.headers.cookie", "err.requestBodyValues", "*.apiKey"] });
  await mkdir(config.dataDir, { recursive: true });
  const db = await connectDatabase(config.database, log);
  const pool = openPool(config, log);
  await migrate({ sequelize: db.sequelize, pool, log }, config.renderRolePassword);
  const services = createServices({ config, db, log, readKey });
  const runFeed = new RunFeed({ pool, getDetail: (runId) => services.runs.getDetail(runId), log });
  const servers = [
    await listen(createApp({ config, pool, log, services, runFeed }), config.appPort),
    await listen(createExhibitApp({ ...services, appOrigin: config.appOrigin, log }), config.exhibitPort),
  ];
  const runner = await startQueue({ config, pool, log, services, db });
  log.info({ app: config.appOrigin, exhibits: config.exhibitOrigin }, "ready");
  process.send?.({ type: "ready" });

  let isStopping = false;
  const stop = async (): Promise<void> => {
    if (isStopping) return;
    isStopping = true;
    log.info("stopping");
    runFeed.close();
    for (const server of servers) server.closeAllConnections();
    await Promise.all(servers.map((server) => promisify(server.close.bind(server))()));
    await runner.stop();
    await pool.end();
    await db.close();
    process.exit(0);
  };
  for (const signal of ["SIGINT", "SIGTERM", "disconnect"] as const) process.once(signal, () => void stop());
}

main().catch((thrown: unknown) => {
  console.error(describeError(toTourneyError(thrown)));
  process.exit(1);
});
