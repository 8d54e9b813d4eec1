import { EventEmitter } from "node:events";
import { createPresence, freeStaleJobs, BEAT_EVERY_MS } from "@tourney/store";
import { type Runner, run, type WorkerEvents } from "graphile-worker";
import type pg from "pg";
import type { Logger } from "pino";
import type { Database } from "../db/connection.js";
import type { Services } from "../services.js";
import { createTasks } from "./tasks.js";
import { queueLogger } from "./runner.js";
import { wakeForDue } from "./wake-for-due.js";

const CIRCUIT_PAUSE_MS = 15_000;
/** Workers are woken for what there is to do (`wakeForDue`): this is for the case that something is overlooked. */
const LONGEST_SLEEP_MS = 30_000;
const RETRY = { maxAttempts: 5, firstDelayMs: 1000, longestDelayMs: 60_000 } as const;

export interface QueueOptions {
  kind: "server" | "generate";
  /** How many jobs at a time. */
  capacity: number;
  pool: pg.Pool;
  db: Database;
  services: Services;
  log: Logger;
}

/**
 * Works on every job but the recordings, beside any number of other processes that do the same. What a process that is gone
 * had taken is freed now and every few seconds, and generations that nobody works on any longer are handed out again.
 */
export async function startQueue(options: QueueOptions): Promise<Pick<Runner, "stop">> {
  const { kind, capacity, pool, db, services, log } = options;
  const deps = { db, ...services, log };
  const presence = createPresence(pool, {
    kind,
    capacity,
    rendererVersion: null,
    onError: (error) => log.warn({ err: error }, "could not record this process's heartbeat"),
  });
  const events: WorkerEvents = new EventEmitter();
  const taskList = createTasks(services, { ...deps, retry: RETRY, circuitPauseMs: CIRCUIT_PAUSE_MS });
  let stopWaking = (): void => undefined;
  events.on("pool:create", ({ workerPool }) => {
    presence.addQueueId(workerPool.id);
    stopWaking = wakeForDue(workerPool, { db, log, tasks: Object.keys(taskList), capacity });
  });
  const tidy = async () => {
    const freed = await freeStaleJobs(pool);
    if (freed > 0) log.info({ freed }, "freed the jobs of processes that are gone");
    return freed;
  };
  await presence.begin();
  await tidy();
  await services.generations.readmitAll();
  await services.extractDeps.entries.takeUpAnswers();
  await services.addJob("dispatch", {}, { key: "dispatch" });
  const runner = await run({
    pgPool: pool,
    concurrency: capacity,
    noHandleSignals: true,
    parsedCronItems: [],
    pollInterval: LONGEST_SLEEP_MS,
    events,
    logger: queueLogger(log),
    taskList,
  });
  const timer = setInterval(() => {
    tidy()
      .then((freed) => (freed > 0 ? services.generations.readmitAll() : undefined))
      .catch((error: unknown) => log.warn({ err: error }, "could not look for processes that are gone"));
  }, BEAT_EVERY_MS);
  return {
    async stop() {
      clearInterval(timer);
      stopWaking();
      await runner.stop();
      await presence.end();
    },
  };
}
