import type { Pool, PoolClient } from "pg";
import type { Logger } from "pino";

const RECONNECT_MS = 2000;

interface ListenerDeps {
  pool: Pool;
  log: Logger;
  /** Of the database's notifications. */
  channel: string;
  onNotification: (payload: string) => void;
  /** It listens now, or it does not any more: what was told in between is not known. */
  onTurn?: (isListening: boolean) => void;
}

/** Listens to the database's notifications, sent by whichever process commits something. It connects again two seconds after a connection breaks. */
export class Listener {
  private client: PoolClient | null = null;
  private isAsked = false;
  private isClosed = false;
  /** The last question that was put, and the one that waits for its answer. */
  private asked: Promise<unknown> = Promise.resolve();
  private waiting: Promise<void> | null = null;

  constructor(private readonly deps: ListenerDeps) {}

  /** Begins to listen, unless it does already. */
  async listen(): Promise<void> {
    if (this.isClosed || this.isAsked) return;
    this.isAsked = true;
    try {
      const client = await this.deps.pool.connect();
      if (!this.adopt(client)) return;
      client.on("notification", ({ payload = "" }) => this.deps.onNotification(payload));
      client.on("error", () => this.listenAgain());
      await client.query(`LISTEN ${this.deps.channel}`);
      this.deps.onTurn?.(true);
    } catch (error) {
      this.deps.log.warn({ err: error }, `notifications of ${this.deps.channel} cannot be listened to; trying again`);
      this.listenAgain();
    }
  }

  /**
   * Waits until everything that was told before has arrived: the database sends it ahead of its next answer on the same connection. Whoever comes while a question is on its
   * way shares the one after it, since the first may have been answered too early.
   */
  catchUp(): Promise<void> {
    this.waiting ??= this.asked.then(async () => {
      this.waiting = null;
      const answer = this.client?.query("SELECT 1");
      this.asked = Promise.resolve(answer).catch(() => undefined);
      await answer;
    });
    return this.waiting;
  }

  close(): void {
    this.isClosed = true;
    this.client?.release(true);
    this.client = null;
  }

  /** Keeps a connection, unless all was closed while it was being made. */
  private adopt(client: PoolClient): boolean {
    if (this.isClosed) client.release(true);
    else this.client = client;
    return !this.isClosed;
  }

  private listenAgain(): void {
    if (this.client !== null) this.deps.onTurn?.(false);
    this.client?.release(true);
    this.client = null;
    this.isAsked = false;
    if (!this.isClosed) setTimeout(() => void this.listen(), RECONNECT_MS).unref();
  }
}
