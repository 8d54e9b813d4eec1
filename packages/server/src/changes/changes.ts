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

/** Counts what is changed in the database, so that what was read from it is known to hold still. */
export class Changes {
  private own = 0;
  private told = 0;
  private isListening = false;
  private readonly listener: Listener;

  constructor(deps: { pool: Pool; log: Logger }) {
    this.listener = new Listener({
      ...deps,
      channel: CHANNEL,
      onNotification: () => this.told++,
      onTurn: (isListening) => {
        // What happened while nobody listened is not known.
        this.told++;
        this.isListening = isListening;
      },
    });
    void this.listener.listen();
  }

  /** This server has changed something. */
  noteOwn(): void {
    this.own++;
  }

  /** @returns null while the database cannot be listened to: then nothing is known to hold. */
  async stamp(): Promise<Stamp | null> {
    try {
      await this.listener.catchUp();
    } catch {
      return null;
    }
    return this.isListening ? { own: this.own, told: this.told } : null;
  }

  close(): void {
    this.listener.close();
  }
}
