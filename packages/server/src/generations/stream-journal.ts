import type { Logger } from "pino";

/** Stores pieces of streams: one call for all streams of a process. */
export type StoreParts = (parts: readonly { attemptId: string; number: number; text: string }[]) => Promise<void>;

/**
 * Keeps what arrives on streams: pieces are gathered for a moment and stored together, so that hundreds of streams cost a
 * few statements a second. A process that dies loses what the last moment brought, and no more.
 */
export class StreamJournal {
  private readonly waiting = new Map<string, string>();
  private readonly counts = new Map<string, number>();
  private timer: NodeJS.Timeout | null = null;
  private storing: Promise<void> = Promise.resolve();

  constructor(
    private readonly store: StoreParts,
    private readonly log: Logger,
    private readonly intervalMs = 1000,
  ) {}

  add(attemptId: string, text: string): void {
    this.waiting.set(attemptId, (this.waiting.get(attemptId) ?? "") + text);
    this.timer ??= setTimeout(() => void this.flush(), this.intervalMs);
  }

  /** Forgets a stream whose whole text is stored otherwise; resolves when nothing of it is being written any more. */
  async end(attemptId: string): Promise<void> {
    this.waiting.delete(attemptId);
    this.counts.delete(attemptId);
    await this.storing;
  }

  async flush(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const parts = [...this.waiting].map(([attemptId, text]) => {
      const number = (this.counts.get(attemptId) ?? 0) + 1;
      this.counts.set(attemptId, number);
      // PostgreSQL's text cannot hold NUL.
      return { attemptId, number, text: text.replaceAll("\0", "\ufffd") };
    });
    this.waiting.clear();
    if (parts.length === 0) return;
    this.storing = this.storing
      .then(() => this.store(parts))
      .catch((error: unknown) => this.log.error({ err: error }, "what streams brought could not be kept"));
    await this.storing;
  }
}
