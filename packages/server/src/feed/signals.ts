import { randomUUID } from "node:crypto";
import type { Response } from "express";
import { CHANGED, type Changed, type Changes } from "../changes/changes.js";
import { sendEvent } from "./page-line.js";

/** Pages are told at most this often that something has changed. */
const EVERY_MS = 500;

/** Tells open pages what has changed, so that they need not ask whether. What they show of it they ask for themselves. */
export class Signals {
  private readonly pages = new Set<Response>();
  private readonly counts = { cells: 0, ballots: 0 };
  private readonly moved = new Set<Changed>();
  private due: NodeJS.Timeout | null = null;
  private lastAt = -EVERY_MS;
  /** Names this start of the server, since its counts begin at 0. */
  private readonly start = randomUUID().slice(0, 8);

  constructor(changes: Changes) {
    changes.onMove((about) => {
      this.counts[about]++;
      this.moved.add(about);
      this.due ??= setTimeout(() => this.tell(), Math.max(0, this.lastAt + EVERY_MS - performance.now()));
    });
  }

  /** @param mark the id of the last event that the page received before it reconnected */
  subscribe(response: Response, mark: string | undefined): void {
    this.pages.add(response);
    response.on("close", () => this.pages.delete(response));
    const [start, ...seen] = (mark ?? "").split(".");
    const missed = CHANGED.filter((about, at) => start !== this.start || Number(seen[at]) !== this.counts[about]);
    this.send(response, missed);
  }

  close(): void {
    if (this.due !== null) clearTimeout(this.due);
    for (const page of this.pages) page.end();
  }

  private tell(): void {
    this.due = null;
    this.lastAt = performance.now();
    const moved = [...this.moved];
    this.moved.clear();
    for (const page of this.pages) this.send(page, moved);
  }

  private send(page: Response, moved: readonly Changed[]): void {
    const mark = [this.start, ...CHANGED.map((about) => this.counts[about])].join(".");
    sendEvent(page, "changed", JSON.stringify(moved), mark);
  }
}
