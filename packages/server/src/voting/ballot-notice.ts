import type { Logger } from "pino";
import type { Database } from "../db/connection.js";

/** Many ballots at once are told of together. */
const TOGETHER_MS = 150;

/** Tells whoever listens, in this process or another, that the ballots of an edition have changed. */
export type TellOfBallots = (editionId: string) => void;

export function createTellOfBallots({ db, log }: { db: Database; log: Logger }): TellOfBallots {
  const due = new Set<string>();
  return (editionId) => {
    if (due.has(editionId)) return;
    due.add(editionId);
    setTimeout(() => {
      due.delete(editionId);
      db.execute("SELECT pg_notify('tourney_ballots', $1)", [editionId]).catch((error: unknown) => {
        log.warn({ err: error, editionId }, "nobody could be told of new ballots");
      });
    }, TOGETHER_MS).unref();
  };
}
