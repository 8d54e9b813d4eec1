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

/** Whoever knows how far something has moved. */
export interface Stamps {
  /** @returns null while that cannot be told: then nothing is known to hold. */
  stamp: () => Promise<Stamp | null>;
}

/** Counts what is changed in the database, so that what was read from it is known to hold still. */
export class Changes implements Stamps {
  private own = 0;
  private readonly told = { cells: 0, ballots: 0 };
  private isListening = false;
  private readonly listener: Listener;

  constructor(deps: { pool: Pool; log: Logger }) {
    this.listener = new Listener({
      ...deps,
      channel: CHANNEL,
      onNotification: (about) => this.told[about === "ballots" ? "ballots" : "cells"]++,
      onTurn: (isListening) => {
        // What happened while nobody listened is not known.
        for (const about of CHANGED) this.told[about]++;
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

  /** Of changes about one thing alone. */
  of(about: Changed): Stamps {
    return { stamp: () => this.stampOf([about]) };
  }

  close(): void {
    this.listener.close();
  }

  private async stampOf(about: readonly Changed[]): Promise<Stamp | null> {
    try {
      await this.listener.catchUp();
    } catch {
      return null;
    }
    const told = about.reduce((sum, one) => sum + this.told[one], 0);
    return this.isListening ? { own: this.own, told } : null;
  }
}
