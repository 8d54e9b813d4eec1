import type { Response } from "express";
import type { Pool } from "pg";
import type { Logger } from "pino";
import { Listener } from "./listener.js";
import { sendEvent } from "./page-line.js";

interface FeedDeps {
  pool: Pool;
  log: Logger;
  /** Of the database's notifications. */
  channel: string;
  /** Of the events that pages get, before a colon and what they are of. */
  event: string;
  /** @returns JSON that has been checked by its schema */
  read: (subject: string) => Promise<string>;
  /** Whether a notification is of that; without it, when they are the same. */
  concerns?: (payload: string, subject: string) => boolean;
  /** What is read on a notification even though no page looks at it, because reading it keeps it up to date. */
  follow?: (payload: string) => string;
  /** What moves is read so long after it has, with all that moves meanwhile. */
  intervalMs: number;
  /** For how many milliseconds it is left alone after it was read: asked each time when that is over. */
  restOf?: (subject: string) => number;
  /** For what moves without a notification, as paces and waits: open pages are told again this often. */
  refreshMs?: number;
}

/**
 * Pushes what pages look at to them as server-sent events. What moves is told by the database's own notifications, since several
 * processes work on it.
 */
export class Feed {
  private readonly pages = new Map<string, Set<Response>>();
  private readonly due = new Map<string, NodeJS.Timeout>();
  /** What was read is not read again before this. */
  private readonly restsUntil = new Map<string, number>();
  /** What is being read, and of that what has moved meanwhile: how long it rests is not known before it is read. */
  private readonly reading = new Set<string>();
  private readonly movedMeanwhile = new Set<string>();
  private readonly refresh: NodeJS.Timeout | undefined;
  private readonly listener: Listener;

  constructor(private readonly deps: FeedDeps) {
    this.listener = new Listener({ ...deps, onNotification: (payload) => this.hear(payload) });
    if (deps.follow) void this.listener.listen();
    if (deps.refreshMs === undefined) return;
    this.refresh = setInterval(() => {
      for (const subject of this.pages.keys()) this.schedule(subject, 0);
    }, deps.refreshMs);
    this.refresh.unref();
  }

  /** Sends what it looks at to a page over its open line, now and whenever it moves, until the page goes away. */
  subscribe(subject: string, response: Response): void {
    void this.listener.listen();
    const open = this.pages.get(subject) ?? new Set();
    this.pages.set(subject, open.add(response));
    // Who looks does not wait for what was to be read for nobody.
    clearTimeout(this.due.get(subject));
    this.due.delete(subject);
    response.on("close", () => {
      open.delete(response);
      if (open.size === 0) this.pages.delete(subject);
    });
    this.schedule(subject, 0);
  }

  close(): void {
    clearInterval(this.refresh);
    for (const timer of this.due.values()) clearTimeout(timer);
    for (const open of this.pages.values()) for (const page of open) page.end();
    this.listener.close();
  }

  private hear(payload: string): void {
    const followed = this.deps.follow?.(payload);
    if (followed !== undefined && !this.pages.has(followed)) this.schedule(followed);
    for (const subject of this.pages.keys())
      if (this.deps.concerns?.(payload, subject) ?? payload === subject) this.schedule(subject);
  }

  private schedule(subject: string, delayMs = this.deps.intervalMs): void {
    if (this.due.has(subject)) return;
    if (delayMs > 0 && this.reading.has(subject)) {
      this.movedMeanwhile.add(subject);
      return;
    }
    const restMs = (this.restsUntil.get(subject) ?? 0) - Date.now();
    const push = () => void this.push(subject);
    this.due.set(subject, setTimeout(push, delayMs === 0 ? 0 : Math.max(delayMs, restMs)));
  }

  private async push(subject: string): Promise<void> {
    this.due.delete(subject);
    this.reading.add(subject);
    try {
      const data = await this.deps.read(subject);
      for (const page of this.pages.get(subject) ?? []) sendEvent(page, `${this.deps.event}:${subject}`, data);
    } catch (error) {
      this.deps.log.error({ err: error, subject }, `a ${this.deps.event} could not be pushed to its pages`);
    } finally {
      if (this.deps.restOf !== undefined) this.restsUntil.set(subject, Date.now() + this.deps.restOf(subject));
      this.reading.delete(subject);
      if (this.movedMeanwhile.delete(subject)) this.schedule(subject);
    }
  }
}
