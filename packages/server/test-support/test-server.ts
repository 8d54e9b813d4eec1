import { createServer, type Server } from "node:http";
import { mkdtemp, rm } from "node:fs/promises";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout } from "node:timers/promises";
import { fileURLToPath } from "node:url";
import {
  type DatabaseConnection,
  ensureDatabase,
  readDatabaseAddress,
  renderRoleOf,
  resolveConnection,
  toClientConfig,
} from "@tourney/store";
import { run, runOnce, type TaskList } from "graphile-worker";
import pg from "pg";
import { pino } from "pino";
import * as z from "zod";
import { createApp } from "../src/app.js";
import { createAside } from "../src/aside/aside.js";
import { ballotsDirOf, chooseOrigins, type Config } from "../src/config.js";
import { connectDatabase, type Database } from "../src/db/connection.js";
import { migrate } from "../src/db/migrate.js";
import { createExhibitApp } from "../src/exhibit/exhibit-app.js";
import type { GenerateDeps } from "../src/generations/generate-job.js";
import { createTasks } from "../src/jobs/tasks.js";
import { closeFeeds, createFeeds } from "../src/feed/feeds.js";
import { Lull } from "../src/http/lull.js";
import { queueLogger } from "../src/jobs/runner.js";
import { createServices, type Services } from "../src/services.js";

/** The tests' PostgreSQL, told by the variables of a database with another beginning; the name is what their names begin with. */
const SERVER = readDatabaseAddress(
  Object.fromEntries(
    Object.entries(process.env).flatMap(([name, value]) =>
      name.startsWith("TOURNEY_TEST_DB_") ? [[name.replace("_TEST_", "_"), value]] : [],
    ),
  ),
);
export const RENDER_ROLE_PASSWORD = "for-tests-only";

/** A whole Tourney on a database of its own, with the queue run by hand so that tests see each step. */
export interface TestServer {
  origin: string;
  /** As voters' browsers know it. */
  appOrigin: string;
  exhibitOrigin: string;
  /** Where this machine reaches the exhibits. */
  exhibitsAt: string;
  /** An empty shelf, to be filled. */
  shelfDir: string;
  db: Database;
  pool: pg.Pool;
  services: Services;
  keys: Record<string, string>;
  /** What the server's own jobs are made with. */
  jobDeps: Omit<GenerateDeps, "retry" | "circuitPauseMs">;
  /** Runs the server's jobs that are due until none is left; some may be replaced, to fail as told. */
  runJobs: (replaced?: Partial<TaskList>) => Promise<void>;
  /** As `runJobs`, and what waits for another attempt does not wait. */
  retryJobs: () => Promise<void>;
  /** Runs jobs side by side, as the server itself does, until it is stopped. */
  keepRunning: () => Promise<() => Promise<void>>;
  close: () => Promise<void>;
}

const silent = pino({ level: process.env["TOURNEY_TEST_LOG"] ?? "silent" });
/** Retries come at once, so that tests need not wait for them. */
const RETRY = { maxAttempts: 3, firstDelayMs: 0, longestDelayMs: 0 };

async function listen(server: Server): Promise<number> {
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return (server.address() as AddressInfo).port;
}

const HELD = "SELECT id::text, locked_by FROM graphile_worker._private_jobs WHERE locked_at IS NOT NULL";

/** The jobs that somebody works on, each with who that is. */
const listHeldJobs = async (db: Database): Promise<string[]> =>
  (await db.select(z.object({ id: z.string(), locked_by: z.string() }), HELD)).map(
    (job) => `${job.id} ${job.locked_by}`,
  );

/**
 * The queue writes down how a job ended without waiting for it: a test that looks at once would see the state before. What was held
 * already, as by a process that a test has killed, stays so.
 */
async function untilWrittenDown(db: Database, before: readonly string[]): Promise<void> {
  const end = Date.now() + 10_000;
  while (Date.now() < end) {
    if ((await listHeldJobs(db)).every((job) => before.includes(job))) return;
    await setTimeout(5);
  }
  throw new Error("A job is still held 10 s after the queue ended.");
}

/** An empty database on the tests' PostgreSQL. */
export async function createDatabase(): Promise<string> {
  if (SERVER === null)
    throw new Error(
      "Run this through `./tourney test --only integration`: it starts the PostgreSQL that the test needs.",
    );
  const name = `${SERVER.name}${process.pid}_${Math.random().toString(36).slice(2)}`;
  await ensureDatabase({ ...SERVER, name });
  return name;
}

/** The built interface, where a test drives a browser. */
const WEB_DIR = fileURLToPath(new URL("../../web/dist", import.meta.url));

/** How to reach a database on the tests' PostgreSQL. */
export const reach = (name: string): Promise<DatabaseConnection> => resolveConnection({ ...SERVER!, name });

/**
 * @param withInterface whether it serves the interface, and stages on hosts of their own, as in a real Tourney.
 * @param database one that has data already; an empty one unless given.
 * @param settings others than those of a test.
 * @param publicUrl where people find it, if that is not this machine.
 */
export async function startTestServer({
  withInterface = false,
  database = "",
  settings = {},
  publicUrl = null,
}: {
  withInterface?: boolean;
  database?: string;
  settings?: Partial<Config>;
  publicUrl?: string | null;
} = {}): Promise<TestServer> {
  const name = database === "" ? await createDatabase() : database;
  const dataDir = await mkdtemp(join(tmpdir(), "tourney-test-"));
  const handlers: { app: Parameters<typeof createServer>[1]; exhibits: Parameters<typeof createServer>[1] } = {
    app: undefined,
    exhibits: undefined,
  };
  const servers = [
    createServer((...args) => handlers.app?.(...args)),
    createServer((...args) => handlers.exhibits?.(...args)),
  ] as const;
  const [appPort, exhibitPort] = [await listen(servers[0]), await listen(servers[1])];
  const connection = await reach(name);
  const config: Config = {
    database: connection,
    renderRole: { name: renderRoleOf(name), password: RENDER_ROLE_PASSWORD },
    dataDir,
    shelfDir: join(dataDir, "shelf"),
    webDir: withInterface ? WEB_DIR : dataDir,
    secret: "a secret that is only good for tests, and long enough",
    listen: "127.0.0.1",
    trustedProxies: "loopback",
    ...chooseOrigins({
      appPort,
      exhibitPort,
      publicUrl,
      // Without a browser there is nobody who would find names below localhost.
      stagesUrl: withInterface ? null : `http://127.0.0.1:${exhibitPort}`,
    }),
    localEndpoints: "all",
    generations: 4,
    joinsFromOnePlace: 700,
    leastRoomBytes: 0,
    isDemo: false,
    logLevel: "silent",
    ...settings,
  };
  const db = await connectDatabase(connection, silent);
  const pool = new pg.Pool({ ...toClientConfig(connection), max: 8 });
  // The queue insists on handlers; what breaks in a test shows as the test's own failure.
  pool.on("error", () => undefined);
  pool.on("connect", (client) => client.on("error", () => undefined));
  await migrate({ sequelize: db.sequelize, pool, log: silent }, config.renderRole);
  const keys: Record<string, string> = {};
  const readKey = (variable: string) => keys[variable] ?? null;
  const services = createServices({ config, db, log: silent, readKey });
  const feeds = createFeeds({ pool, log: silent, services });
  const aside = createAside({ db, changes: feeds.changes, ballotsDir: ballotsDirOf(config) });
  handlers.app = createApp({ config, pool, log: silent, services, feeds, aside, lull: new Lull() });
  handlers.exhibits = createExhibitApp({ ...services, ...config, log: silent });
  const deps = { db, ...services, log: silent };
  const taskList = createTasks(services, { ...deps, retry: RETRY, circuitPauseMs: 0 });
  const runJobs = async (replaced: Partial<TaskList> = {}) => {
    const before = await listHeldJobs(db);
    await runOnce({
      pgPool: pool,
      taskList: { ...taskList, ...replaced },
      noHandleSignals: true,
      parsedCronItems: [],
      logger: queueLogger(silent),
    });
    await untilWrittenDown(db, before);
  };
  return {
    origin: `http://127.0.0.1:${appPort}`,
    appOrigin: config.appOrigin,
    exhibitOrigin: config.exhibitOrigin,
    exhibitsAt: `http://127.0.0.1:${exhibitPort}`,
    shelfDir: config.shelfDir,
    db,
    pool,
    services,
    keys,
    jobDeps: deps,
    runJobs,
    async retryJobs() {
      await db.execute("UPDATE graphile_worker._private_jobs SET run_at = now()");
      await runJobs();
    },
    async keepRunning() {
      const runner = await run({
        pgPool: pool,
        taskList,
        concurrency: 4,
        pollInterval: 100,
        noHandleSignals: true,
        parsedCronItems: [],
        logger: queueLogger(silent),
      });
      return () => runner.stop();
    },
    async close() {
      closeFeeds(feeds);
      for (const server of servers) {
        server.closeAllConnections();
        await new Promise((resolve) => server.close(resolve));
      }
      services.readers.close();
      await Promise.all([services.counting.close(), aside.close()]);
      await pool.end();
      await db.close();
      await rm(dataDir, { recursive: true, force: true });
    },
  };
}
