import { EventEmitter } from "node:events";
import { availableParallelism } from "node:os";
import { join } from "node:path";
import { RENDERER_VERSION } from "@tourney/core/contract";
import { TourneyError, describeError, toTourneyError } from "@tourney/core/errors";
import { Logger as QueueLogger, run, type WorkerEvents } from "graphile-worker";
import pg from "pg";
import { type Logger, pino } from "pino";
import * as z from "zod";
import {
  createFolderBlobStore,
  createIntake,
  createPresence,
  createRoom,
  type DatabaseAddress,
  type Intake,
  LEAST_ROOM_BYTES,
  openShelf,
  readDatabaseAddress,
  ShelfIntake,
  renderRoleOf,
  resolveConnection,
  stopOnSignals,
  toClientConfig,
} from "@tourney/store";
import { BrowserPool } from "./browser/browser-pool.js";
import { handleRenderJob } from "./render-job.js";

const Environment = z.object({
  TOURNEY_RENDER_ROLE_PASSWORD: z.string().min(1),
  TOURNEY_DATA_DIR: z.string().min(1),
  TOURNEY_SHELF_DIR: z.string().optional(),
  TOURNEY_SHELF_INTAKE: ShelfIntake,
  TOURNEY_BROWSER: z.string().optional(),
  // One more than there are cores: while one page is watched in real time, the others have its core.
  TOURNEY_RENDERS: z.coerce
    .number()
    .int()
    .min(1)
    .max(32)
    .default(availableParallelism() + 1),
  TOURNEY_LEAST_ROOM_MB: z.coerce
    .number()
    .min(0)
    .default(LEAST_ROOM_BYTES / 1e6),
  TOURNEY_LOG_LEVEL: z.string().default("info"),
});

type Settings = z.infer<typeof Environment> & { database: DatabaseAddress };

function readEnvironment(): Settings {
  const parsed = Environment.safeParse(process.env);
  const database = readDatabaseAddress(process.env);
  if (parsed.success && database !== null) {
    // Its own role may touch the queue, say that it lives, and nothing else.
    const user = renderRoleOf(database.name);
    return { ...parsed.data, database: { ...database, user, password: parsed.data.TOURNEY_RENDER_ROLE_PASSWORD } };
  }
  const missing = parsed.error?.issues.map(({ path }) => path.join(".")) ?? [];
  throw new TourneyError("SETUP_FAILED", {
    message: `The render worker's environment is not complete: ${[...(database === null ? ["TOURNEY_DB_HOST"] : []), ...missing].join(", ")}.`,
    reason: "It takes its settings from TOURNEY_… variables.",
    remedy: "Start it with `./tourney start` or `./tourney demo`, which set them all.",
  });
}

async function openPool(env: Settings, log: Logger): Promise<pg.Pool> {
  const connection = await resolveConnection(env.database);
  const pool = new pg.Pool({ ...toClientConfig(connection), max: env.TOURNEY_RENDERS + 3 });
  pool.on("error", (error) => log.error({ err: error }, "a database connection broke"));
  pool.on("connect", (client) =>
    client.on("error", (error) => log.error({ err: error }, "a database connection broke")),
  );
  return pool;
}

/** Libraries that pages ask for come to the shelf once the address of what starts this worker stands; started alone, at once. */
const openIntake = (folder: string, log: Logger): Intake =>
  createIntake({
    folder,
    mayBegin:
      process.send === undefined
        ? Promise.resolve()
        : new Promise((resolve) => process.once("message", () => resolve())),
    tell: (event) => {
      if ("taken" in event) log.info(event, "a library was put on the shelf");
      else log.warn(event, "a library could not be put on the shelf");
    },
  });

async function main(): Promise<void> {
  const env = readEnvironment();
  const log = pino({ level: env.TOURNEY_LOG_LEVEL });
  const pool = await openPool(env, log);
  const presence = createPresence(pool, {
    kind: "render",
    capacity: env.TOURNEY_RENDERS,
    rendererVersion: RENDERER_VERSION,
    onError: (error) => log.warn({ err: error }, "could not say that this process lives"),
  });
  const events: WorkerEvents = new EventEmitter();
  events.on("pool:create", ({ workerPool }) => presence.addQueueId(workerPool.id));
  await presence.begin();
  const shelfDir = env.TOURNEY_SHELF_DIR ?? join(env.TOURNEY_DATA_DIR, "shelf");
  const browsers = new BrowserPool();
  const room = createRoom(env.TOURNEY_DATA_DIR, { leastBytes: env.TOURNEY_LEAST_ROOM_MB * 1e6 });
  const deps = {
    pool: browsers,
    blobs: createFolderBlobStore(join(env.TOURNEY_DATA_DIR, "blobs")),
    shelf: openShelf(shelfDir, env.TOURNEY_SHELF_INTAKE === "on" ? openIntake(shelfDir, log) : null),
    browserPath: env.TOURNEY_BROWSER,
    errors: (line: string) => log.debug({ browser: line }),
  };
  const runner = await run({
    pgPool: pool,
    concurrency: env.TOURNEY_RENDERS,
    noHandleSignals: true,
    parsedCronItems: [],
    pollInterval: 1000,
    events,
    logger: new QueueLogger(
      () => (level, message) =>
        log[(level as string) === "warning" ? "warn" : (level as "error" | "info" | "debug")](message),
    ),
    taskList: {
      render: async (payload, { addJob, job, abortSignal }) => {
        await room.untilEnough(abortSignal);
        if (abortSignal.aborted) throw new Error("Stopped before it began");
        const finished = await handleRenderJob(payload, job.attempts, deps);
        if (finished.error === null)
          log.info({ renderId: finished.renderId, wallMs: finished.recording?.metrics.wallMs }, "recorded");
        else log.error({ renderId: finished.renderId, error: finished.error }, "not recorded");
        await addJob("render-finished", finished, { jobKey: `render-finished:${finished.renderId}` });
      },
    },
  });
  log.info("ready");
  process.send?.({ type: "ready" });

  stopOnSignals(async () => {
    log.info("finishing what has begun");
    await runner.stop();
    await browsers.end();
    await presence.end();
    await pool.end();
  });
}

main().catch((thrown: unknown) => {
  console.error(describeError(toTourneyError(thrown)));
  process.exit(1);
});
