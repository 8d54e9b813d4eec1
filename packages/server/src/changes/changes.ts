import type { Pool } from "pg";
import type { Logger } from "pino";
import { Listener } from "../feed/listener.js";

/** Of the database's notifications; its tables' triggers send them. */
const CHANNEL = "tourney_changes";

/** How far what is kept in the database has moved. */
export interface Stamp {
  /** Changes that this server made on request: who asked for one sees it at once. */
  own: number;
  /** Changes that the database has told of, by whatever process. */
  told: number;
}

/** What changes are about: answers, entries and all that the wall is made of, or ballots and voters. */
export const CHANGED = ["cells", "ballots"] as const;
export type Changed = (typeof CHANGED)[number];

/** What of these is told apart: suites, entrants, runs, and which cells there are, but not how far each has come. */
type Counted = Changed | "setup";

/** Whoever knows how far something has moved. */
export interface Stamps {
  /** @returns null while that cannot be told: then nothing is known to hold. */
  stamp: () => Promise<Stamp | null>;
  /** The caller was given an old value that cannot be read again for `afterMs` milliseconds: open pages are told when it can. */
  remind?: (afterMs: number) => void;
  /** A reading has failed that nobody waited for. */
  report?: (error: unknown) => void;
  /** Where they are about cells. */
  touchedSince?: (told: number | null) => Touched;
}

/** How far cells have moved, and the wordings of those that have changed since an earlier answer; null where they are not known: all may have changed. */
export interface Touched {
  told: number;
  wordingIds: string[] | null;
}

/** So many changes of cells are remembered by what they are of. */
const MOST_REMEMBERED = 2000;

/** Counts what is changed in the database, so that what was read from it is known to hold still. */
export class Changes implements Stamps {
  private own = 0;
  private readonly told = { cells: 0, setup: 0, ballots: 0 };
  /** Of the last changes of cells, in order, the wording; null where it may be any. */
  private touched: (string | null)[] = [];
  private isListening = false;
  private readonly listeners: ((about: Changed) => void)[] = [];
  private readonly reminders = new Map<Changed, { timer: NodeJS.Timeout; at: number }>();
  private readonly listener: Listener;

  constructor(private readonly deps: { pool: Pool; log: Logger }) {
    this.listener = new Listener({
      ...deps,
      channel: CHANNEL,
      onNotification: (payload) => {
        const [about, wordingId = null, isCounted] = payload.split(" ");
        if (about === "ballots") this.noteBallots();
        else this.noteTouched(wordingId, wordingId === null || isCounted !== undefined);
      },
      onTurn: (isListening) => {
        // What happened while nobody listened is not known.
        this.noteBallots();
        this.noteTouched(null, true);
        this.isListening = isListening;
      },
    });
    void this.listener.listen();
  }

  /** This server has changed something. */
  noteOwn(): void {
    this.own++;
  }

  /** @returns null while the database cannot be listened to. */
  stamp(): Promise<Stamp | null> {
    return this.stampOf(CHANGED);
  }

  /** Of changes about one thing alone. @param isCaughtUp for whoever has just had another stamp: what was told before that has arrived */
  of(about: Counted, { isCaughtUp = false }: { isCaughtUp?: boolean } = {}): Stamps {
    return {
      stamp: () => (isCaughtUp ? Promise.resolve(this.toStamp([about])) : this.stampOf([about])),
      remind: (afterMs) => this.remindOf(about === "setup" ? "cells" : about, afterMs),
      report: (error) => this.report(error),
      ...(about === "cells" && { touchedSince: (told) => this.touchedSince(told) }),
    };
  }

  remind(afterMs: number): void {
    for (const about of CHANGED) this.remindOf(about, afterMs);
  }

  report(error: unknown): void {
    this.deps.log.error({ err: error }, "what is kept could not be read again; whoever asks next gets the error");
  }

  /** Calls a listener on each change, and when a value that rested can be read again. */
  onMove(listener: (about: Changed) => void): void {
    this.listeners.push(listener);
  }

  touchedSince(told: number | null): Touched {
    const now = this.told.cells;
    if (told === null || !this.isListening || now - told > this.touched.length) return { told: now, wordingIds: null };
    const since = new Set(this.touched.slice(this.touched.length - (now - told)));
    return { told: now, wordingIds: since.has(null) ? null : ([...since] as string[]) };
  }

  close(): void {
    for (const { timer } of this.reminders.values()) clearTimeout(timer);
    this.listener.close();
  }

  private tell(about: Changed): void {
    for (const listener of this.listeners) listener(about);
  }

  private remindOf(about: Changed, afterMs: number): void {
    const at = performance.now() + afterMs;
    const before = this.reminders.get(about);
    if (before !== undefined && before.at >= at) return;
    clearTimeout(before?.timer);
    const remind = () => {
      this.reminders.delete(about);
      this.tell(about);
    };
    this.reminders.set(about, { at, timer: setTimeout(remind, afterMs).unref() });
  }

  private noteBallots(): void {
    this.told.ballots++;
    this.tell("ballots");
  }

  /** @param isSetup whether more than how far a cell has come may have changed */
  private noteTouched(wordingId: string | null, isSetup: boolean): void {
    this.told.cells++;
    if (isSetup) this.told.setup++;
    this.touched.push(wordingId);
    this.tell("cells");
    if (this.touched.length >= 2 * MOST_REMEMBERED) this.touched = this.touched.slice(-MOST_REMEMBERED);
  }

  private async stampOf(about: readonly Counted[]): Promise<Stamp | null> {
    try {
      await this.listener.catchUp();
    } catch {
      return null;
    }
    return this.toStamp(about);
  }

  private toStamp(about: readonly Counted[]): Stamp | null {
    const told = about.reduce((sum, one) => sum + this.told[one], 0);
    return this.isListening ? { own: this.own, told } : null;
  }
}
