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

/** A page that leaves so much unread, in bytes, does not read at all, as one that its browser has frozen. */
const MOST_UNREAD = 4_000_000;

/**
 * Sends an event, or ends the line where the page does not read: it is opened again when it does, and told what it missed.
 *
 * @param id what a browser says it was told last, when it opens its line again
 */
export function sendEvent(response: Response, event: string, data: string, id?: string): void {
  if (response.writableLength > MOST_UNREAD) {
    response.destroy();
    return;
  }
  response.write(`${id === undefined ? "" : `id: ${id}\n`}event: ${event}\ndata: ${data}\n\n`);
}
