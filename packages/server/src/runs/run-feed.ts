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

interface RunFeedDeps {
  pool: Pool;
  getDetail: (runId: string) => Promise<RunDetail>;
  log: Logger;
}

/**
 * Pushes runs to open pages as server-sent events. What moves is told by the database's own notifications, since several
 * processes work on one run.
 */
export class RunFeed {
  private readonly pages = new Map<string, Set<Response>>();
  private readonly due = new Map<string, NodeJS.Timeout>();
  private readonly refresh: NodeJS.Timeout;
  private client: PoolClient | null = null;
  private isListening = false;
  private isClosed = false;

  constructor(private readonly deps: RunFeedDeps) {
    this.refresh = setInterval(() => {
      for (const runId of this.pages.keys()) this.schedule(runId, 0);
    }, REFRESH_MS);
    this.refresh.unref();
  }

  /** Sends the run's detail to a page, now and whenever it moves, until the page goes away. */
  subscribe(runId: string, response: Response): void {
    void this.listen();
    response.set({
      "Content-Type": "text/event-stream; charset=utf-8",
      "Cache-Control": "no-store",
      "X-Accel-Buffering": "no",
    });
    response.flushHeaders();
    const open = this.pages.get(runId) ?? new Set();
    this.pages.set(runId, open.add(response));
    const keepAlive = setInterval(() => response.write(":\n\n"), KEEP_ALIVE_MS);
    response.on("close", () => {
      clearInterval(keepAlive);
      open.delete(response);
      if (open.size === 0) this.pages.delete(runId);
    });
    this.schedule(runId, 0);
  }

  close(): void {
    this.isClosed = true;
    clearInterval(this.refresh);
    for (const timer of this.due.values()) clearTimeout(timer);
    for (const open of this.pages.values()) for (const page of open) page.end();
    this.client?.release(true);
    this.client = null;
  }

  private schedule(runId: string, delayMs = INTERVAL_MS): void {
    if (this.pages.has(runId) && !this.due.has(runId))
      this.due.set(
        runId,
        setTimeout(() => void this.push(runId), delayMs),
      );
  }

  private async push(runId: string): Promise<void> {
    this.due.delete(runId);
    const open = this.pages.get(runId);
    if (!open) return;
    try {
      const data = JSON.stringify(RunDetail.parse(await this.deps.getDetail(runId)));
      for (const page of open) page.write(`event: run\ndata: ${data}\n\n`);
    } catch (error) {
      this.deps.log.error({ err: error, runId }, "a run could not be pushed to its pages");
    }
  }

  private async listen(): Promise<void> {
    if (this.isClosed || this.isListening) return;
    this.isListening = true;
    try {
      this.client = await this.deps.pool.connect();
      this.client.on("notification", ({ payload }) => this.schedule(payload ?? ""));
      this.client.on("error", () => this.listenAgain());
      await this.client.query("LISTEN tourney_runs");
    } catch (error) {
      this.deps.log.warn({ err: error }, "notifications of runs cannot be listened to; trying again");
      this.listenAgain();
    }
  }

  private listenAgain(): void {
    this.client?.release(true);
    this.client = null;
    this.isListening = false;
    if (!this.isClosed) setTimeout(() => void this.listen(), RECONNECT_MS).unref();
  }
}
