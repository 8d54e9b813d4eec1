import type { Readable, Writable } from "node:stream";
import * as z from "zod";
import type { Patience } from "./patience.js";

const Message = z.looseObject({
  id: z.number().optional(),
  method: z.string().optional(),
  params: z.unknown().optional(),
  result: z.unknown().optional(),
  error: z.looseObject({ message: z.string() }).optional(),
  sessionId: z.string().optional(),
});

export interface CdpEvent {
  method: string;
  params: unknown;
  sessionId: string | undefined;
}

/** The browser is gone: the pipe was closed before the answer came. */
export class CdpClosed extends Error {
  override readonly name = "CdpClosed";
}

/** No message of a sound page is longer; a hostile one could fill the memory by console output alone. */
const LONGEST_MESSAGE_BYTES = 64 * 1024 * 1024;

interface Pending {
  method: string;
  resolve: (result: unknown) => void;
  reject: (error: Error) => void;
  endWait: () => void;
}

/**
 * A client of the Chrome DevTools Protocol over the pipe of `--remote-debugging-pipe`: JSON messages ended by NUL.
 * Every command has a limit, because a stuck page blocks evaluation, screenshots and closing alike: of the processor time that
 * the browser uses, so that a busy machine is not taken for a stuck page.
 */
export class CdpPipe {
  private lastId = 0;
  private readonly pending = new Map<number, Pending>();
  private readonly listeners = new Set<(event: CdpEvent) => void>();
  private chunks: Buffer[] = [];
  private chunksBytes = 0;
  private isClosed = false;

  constructor(
    private readonly input: Writable,
    output: Readable,
    private readonly patience: Patience,
    private readonly commandLimitMs: number,
  ) {
    output.on("data", (chunk: Buffer) => this.receive(chunk));
    output.on("close", () => this.close());
    output.on("error", () => this.close());
    input.on("error", () => this.close());
  }

  /**
   * Sends a command and resolves with its result. Rejects with PageStuck, MachineBusy, CdpClosed, or the browser's own error.
   *
   * @param limitMs processor time that the browser may use before it answers.
   */
  send(method: string, params: object = {}, sessionId?: string, limitMs = this.commandLimitMs): Promise<unknown> {
    if (this.isClosed) return Promise.reject(new CdpClosed(`${method}: the browser is gone`));
    const id = ++this.lastId;
    return new Promise((resolve, reject) => {
      const endWait = this.patience.begin(method, { limitMs }, (error) => {
        this.pending.delete(id);
        reject(error);
      });
      this.pending.set(id, { method, resolve, reject, endWait });
      this.input.write(`${JSON.stringify({ id, method, params, ...(sessionId ? { sessionId } : {}) })}\0`);
    });
  }

  /** Calls back for every event until the returned function is called. */
  listen(listener: (event: CdpEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  close(): void {
    this.isClosed = true;
    this.patience.end(new CdpClosed("The browser is gone"));
    this.pending.clear();
  }

  private receive(chunk: Buffer): void {
    let start = 0;
    for (let end = chunk.indexOf(0); end !== -1; end = chunk.indexOf(0, start)) {
      const message = Buffer.concat([...this.chunks, chunk.subarray(start, end)]).toString("utf8");
      this.chunks = [];
      this.chunksBytes = 0;
      start = end + 1;
      this.dispatch(message);
    }
    if (start < chunk.length) {
      this.chunks.push(chunk.subarray(start));
      this.chunksBytes += chunk.length - start;
      if (this.chunksBytes > LONGEST_MESSAGE_BYTES) this.close();
    }
  }

  private dispatch(text: string): void {
    const { id, method, params, result, error, sessionId } = Message.parse(JSON.parse(text));
    if (method !== undefined) {
      for (const listener of this.listeners) listener({ method, params, sessionId });
      return;
    }
    const waiting = id === undefined ? undefined : this.pending.get(id);
    if (id === undefined || !waiting) return;
    this.pending.delete(id);
    waiting.endWait();
    if (error) waiting.reject(new Error(`${waiting.method}: ${error.message}`));
    else waiting.resolve(result);
  }
}
