import { spawnSync } from "node:child_process";
import { createPresence, freeStaleJobs } from "@tourney/store";
import { run } from "graphile-worker";
import { EventEmitter } from "node:events";
import { pino } from "pino";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { queueLogger } from "./runner.js";
import { startQueue } from "./start-queue.js";

let started: TestServer;
beforeAll(async () => {
  started = await startTestServer();
});
afterAll(() => started.close());
const server = () => started;

/** A job that some process has taken, by the name that the queue notes. */
async function takeJob(key: string, by: string, agoSeconds: number): Promise<void> {
  const { pool } = server();
  await pool.query("SELECT graphile_worker.add_job('render', '{}', job_key := $1)", [key]);
  await pool.query(
    "UPDATE graphile_worker._private_jobs SET locked_by = $2, locked_at = now() - $3 * interval '1 second' WHERE key = $1",
    [key, by, agoSeconds],
  );
}
async function isTaken(key: string): Promise<boolean> {
  const { rows } = await server().pool.query<{ taken: boolean }>(
    "SELECT locked_by IS NOT NULL AS taken FROM graphile_worker.jobs WHERE key = $1",
    [key],
  );
  return rows[0]!.taken;
}
const addWorker = (id: string, changes: { pid?: number; place?: string; agoSeconds?: number; queueIds: string[] }) =>
  server().pool.query(
    `INSERT INTO workers (id, kind, host, place, pid, capacity, queue_ids, seen_at)
     VALUES ($1, 'render', 'a-host', $2, $3, 2, $4, now() - $5 * interval '1 second')`,
    [id, changes.place ?? "elsewhere", changes.pid ?? 1, changes.queueIds, changes.agoSeconds ?? 0],
  );
const id = (n: number) => `00000000-0000-4000-8000-00000000000${n}`;

describe("jobs of processes that are gone", () => {
  it("are freed when nothing was heard of the process, and stay with one that lives", async () => {
    await addWorker(id(1), { queueIds: ["alive"] });
    await addWorker(id(2), { queueIds: ["silent"], agoSeconds: 60 });
    await takeJob("a", "alive", 300);
    await takeJob("b", "silent", 5);
    await freeStaleJobs(server().pool);
    expect([await isTaken("a"), await isTaken("b")]).toEqual([true, false]);
  });

  it("are freed at once when the process was on this host and has ended", async () => {
    const ended = spawnSync("true").pid;
    const presence = createPresence(server().pool, {
      kind: "render",
      capacity: 1,
      rendererVersion: null,
      onError: () => undefined,
    });
    await presence.begin();
    const { rows } = await server().pool.query<{ place: string }>("SELECT place FROM workers WHERE pid = $1", [
      process.pid,
    ]);
    await addWorker(id(3), { queueIds: ["ended"], pid: ended, place: rows[0]!.place });
    await takeJob("c", "ended", 1);
    await freeStaleJobs(server().pool);
    expect(await isTaken("c")).toBe(false);
    await presence.end();
  });

  it("are freed when nobody knows the name, but only after a while", async () => {
    await takeJob("d", "nobody", 120);
    await takeJob("e", "just-begun", 1);
    await freeStaleJobs(server().pool);
    expect([await isTaken("d"), await isTaken("e")]).toEqual([false, true]);
  });
});

describe("a process that works on the queue", () => {
  it("says its name before anybody could take its job for one that was left", async () => {
    const { pool } = server();
    const presence = createPresence(pool, {
      kind: "server",
      capacity: 1,
      rendererVersion: null,
      onError: () => undefined,
    });
    const events = new EventEmitter();
    events.on("pool:create", ({ workerPool }: { workerPool: { id: string } }) => presence.addQueueId(workerPool.id));
    await presence.begin();
    let release: () => void = () => undefined;
    let begin: () => void = () => undefined;
    const begun = new Promise<void>((resolve) => (begin = resolve));
    const released = new Promise<void>((resolve) => (release = resolve));
    const runner = await run({
      pgPool: pool,
      concurrency: 1,
      noHandleSignals: true,
      parsedCronItems: [],
      events,
      logger: queueLogger(pino({ level: "silent" })),
      taskList: {
        slow: async () => {
          begin();
          await released;
        },
      },
    });
    await pool.query("SELECT graphile_worker.add_job('slow', '{}', job_key := 'f')");
    await begun;
    await pool.query(
      "UPDATE graphile_worker._private_jobs SET locked_at = now() - interval '5 minutes' WHERE key = 'f'",
    );
    await freeStaleJobs(pool);
    expect(await isTaken("f")).toBe(true);
    release();
    await runner.stop();
    await presence.end();
    const { rows } = await pool.query("SELECT FROM workers WHERE pid = $1", [process.pid]);
    expect(rows).toEqual([]);
  });
});

describe("jobs that no worker is woken for when they are added", () => {
  it("are taken within a second or two of when they may be: put off, or freed of a process that is gone", async () => {
    const { db, pool, services } = server();
    const log = pino({ level: "silent" });
    const { stop } = await startQueue({ kind: "generate", capacity: 3, db, pool, services, log });
    const isThere = async (key: string) =>
      (await pool.query("SELECT FROM graphile_worker.jobs WHERE key = $1", [key])).rows.length > 0;
    // What the start itself brings about.
    await expect.poll(() => isThere("dispatch"), { timeout: 5000 }).toBe(false);
    await pool.query(
      "SELECT graphile_worker.add_job('dispatch', '{}', job_key := 'put off', run_at := now() + interval '2 seconds')",
    );
    await expect.poll(() => isThere("put off"), { timeout: 6000 }).toBe(false);
    await pool.query(
      "SELECT graphile_worker.add_job('dispatch', '{}', job_key := 'freed', run_at := now() + interval '1 day')",
    );
    await pool.query("UPDATE graphile_worker._private_jobs SET run_at = now() WHERE key = 'freed'");
    await expect.poll(() => isThere("freed"), { timeout: 6000 }).toBe(false);
    await stop();
  });
});
