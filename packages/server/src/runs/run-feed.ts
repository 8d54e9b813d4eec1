import { RunDetail } from "@tourney/core/contract";
import type { Response } from "express";
import type { Pool, PoolClient } from "pg";
import type { Logger } from "pino";

/** A page is told of a run at most this often. */
const INTERVAL_MS = 500;
/** A comment that keeps connections open through whatever sits between. */
const KEEP_ALIVE_MS = 20_000;
const RECONNECT_MS = 2000;
/** Paces and waits move without an event; open pages are told again this often. */
const REFRESH_MS = 3000;

export interface RunFeed {
  /** Sends the run's detail to a page, now and whenever it moves, until the page goes away. */
  subscribe: (runId: string, response: Response) => void;
  close: () => void;
}

/**
 * Pushes runs to open pages as server-sent events. What moves is told by the database's own notifications, since several
 * processes work on one run.
 */
export function createRunFeed({
  pool,
  getDetail,
  log,
}: {
  pool: Pool;
  getDetail: (runId: string) => Promise<RunDetail>;
  log: Logger;
}): RunFeed {
  const pages = new Map<string, Set<Response>>();
  const due = new Map<string, NodeJS.Timeout>();
  let client: PoolClient | null = null;
  let isClosed = false;

  async function push(runId: string): Promise<void> {
    due.delete(runId);
    const open = pages.get(runId);
    if (!open) return;
    try {
      const data = JSON.stringify(RunDetail.parse(await getDetail(runId)));
      for (const page of open) page.write(`event: run\ndata: ${data}\n\n`);
    } catch (error) {
      log.error({ err: error, runId }, "a run could not be pushed to its pages");
    }
  }
  const schedule = (runId: string, delayMs = INTERVAL_MS) => {
    if (pages.has(runId) && !due.has(runId))
      due.set(
        runId,
        setTimeout(() => void push(runId), delayMs),
      );
  };

  async function listen(): Promise<void> {
    if (isClosed || client !== null) return;
    try {
      client = await pool.connect();
      client.on("notification", ({ payload }) => schedule(payload ?? ""));
      client.on("error", relisten);
      await client.query("LISTEN tourney_runs");
    } catch (error) {
      log.warn({ err: error }, "notifications of runs cannot be listened to; trying again");
      relisten();
    }
  }
  function relisten(): void {
    client?.release(true);
    client = null;
    if (!isClosed) setTimeout(() => void listen(), RECONNECT_MS).unref();
  }
  const refresh = setInterval(() => {
    for (const runId of pages.keys()) schedule(runId, 0);
  }, REFRESH_MS);
  refresh.unref();

  return {
    subscribe(runId, response) {
      void listen();
      response.set({
        "Content-Type": "text/event-stream; charset=utf-8",
        "Cache-Control": "no-store",
        "X-Accel-Buffering": "no",
      });
      response.flushHeaders();
      const open = pages.get(runId) ?? new Set();
      pages.set(runId, open.add(response));
      const keepAlive = setInterval(() => response.write(":\n\n"), KEEP_ALIVE_MS);
      response.on("close", () => {
        clearInterval(keepAlive);
        open.delete(response);
        if (open.size === 0) pages.delete(runId);
      });
      schedule(runId, 0);
    },
    close() {
      isClosed = true;
      clearInterval(refresh);
      for (const timer of due.values()) clearTimeout(timer);
      for (const open of pages.values()) for (const page of open) page.end();
      client?.release(true);
      client = null;
    },
  };
}
