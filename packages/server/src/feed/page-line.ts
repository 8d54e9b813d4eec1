import type { Response } from "express";

/** A comment that keeps connections open through whatever sits between. */
const KEEP_ALIVE_MS = 20_000;

/** Opens the one line to a page, over which it is told of all that moves, as server-sent events. */
export function openLine(response: Response): void {
  response.set({
    "Content-Type": "text/event-stream; charset=utf-8",
    "Cache-Control": "no-store",
    "X-Accel-Buffering": "no",
  });
  response.flushHeaders();
  const keepAlive = setInterval(() => response.write(":\n\n"), KEEP_ALIVE_MS);
  response.on("close", () => clearInterval(keepAlive));
}

/** @param id what a browser says it was told last, when it opens its line again */
export const sendEvent = (response: Response, event: string, data: string, id?: string): boolean =>
  response.write(`${id === undefined ? "" : `id: ${id}\n`}event: ${event}\ndata: ${data}\n\n`);
