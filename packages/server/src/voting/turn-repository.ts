import { type BallotInput, RENDERER_VERSION } from "@tourney/core/contract";
import { batch } from "../batch.js";
import { toJson } from "../db/storable.js";
import type { Database } from "../db/connection.js";
import { type NewBout, Turn } from "./turn.js";
import { READ_AGAIN, READ_BY_BOUT, READ_BY_BOUTS, READ_BY_VOTER, STORE, Stored } from "./turn-queries.sql.js";

/** A ballot as it is kept. */
export interface NewBallot extends BallotInput {
  id: string;
  boutId: string;
  maskVersion: string;
}

/** What is to be stored of a voter's turn. */
export interface TurnToStore {
  voterId: string;
  issue: readonly NewBout[];
  ballot: NewBallot | null;
}

/** Most turns stored by one statement. */
const MOST_TOGETHER = 50;

/**
 * A voter's turn in two statements, whatever happens in it: one reads all it depends on, the other stores the ballot and issues the next
 * bouts, both or neither. Under load the turns of several voters share them. Turns of the same voter on two devices at once are told apart by
 * the bouts' ordinals: the later one issues none.
 */
export function createTurnRepository(db: Database) {
  const readOne = async (sql: string, bind: readonly string[]): Promise<Turn | null> => {
    const [row] = await db.select(Turn, sql, bind);
    return row ?? null;
  };
  const readByBouts = async (tokens: readonly string[]): Promise<(Turn | null)[]> => {
    const rows =
      tokens.length === 1
        ? await db.select(Turn, READ_BY_BOUT, tokens)
        : await db.select(Turn, READ_BY_BOUTS, [tokens]);
    const byToken = new Map(rows.flatMap((turn) => turn.bouts.map(({ token }) => [token, turn] as const)));
    return tokens.map((token) => byToken.get(token) ?? null);
  };
  const store = async (turns: readonly TurnToStore[]): Promise<{ isCast: boolean; issued: number }[]> => {
    const ballots = turns.flatMap(({ ballot }) => (ballot ? [ballot] : []));
    const bouts = turns.flatMap(({ voterId, issue }) => issue.map((bout) => ({ voterId, ...bout })));
    const [row] = await db.select(Stored, STORE, [toJson(ballots), toJson(bouts), RENDERER_VERSION]);
    const [stored, issued] = [new Set(row!.ballots), new Set(row!.bouts)];
    return turns.map(({ issue, ballot }) => ({
      isCast: ballot !== null && stored.has(ballot.id),
      issued: issue.filter(({ id }) => issued.has(id)).length,
    }));
  };
  return {
    readByVoter: (panelToken: string, tokenHash: string) => readOne(READ_BY_VOTER, [panelToken, tokenHash]),
    readAgain: (voterId: string) => readOne(READ_AGAIN, [voterId]),
    readByBout: batch(readByBouts, { most: MOST_TOGETHER }),
    /**
     * Resolves with what was stored: no ballot when the bout has one or was passed over, fewer bouts than wanted when another turn of the same
     * voter came first.
     */
    store: batch(store, { most: MOST_TOGETHER }),
  };
}
export type TurnRepository = ReturnType<typeof createTurnRepository>;
