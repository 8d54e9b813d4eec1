import { type BallotFilter, BallotLine } from "@tourney/core/contract";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDate } from "../db/row.js";

const BallotRow = z.object({
  ...BallotLine.shape,
  castAt: isoDate,
  /** The exact instant and the id: where the next older ones begin. */
  place: z.string(),
});
type BallotRow = z.infer<typeof BallotRow>;

const INSTANT = (column: string) => `to_char(${column} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"')`;
const SELECT = `
  SELECT b.id, b.cast_at AS "castAt", ${INSTANT("b.cast_at")} || '_' || b.id AS place, o.ordinal, v.id AS "voterId", v.name AS "voterName",
    p.title AS "panelTitle", v.sample, q.content->>'title' AS "promptTitle", o.left_entry_id AS "leftEntryId",
    o.right_entry_id AS "rightEntryId", o.left_entrant_id AS "leftEntrantId", o.right_entrant_id AS "rightEntrantId", b.lean,
    b.left_works AS "leftWorks", b.right_works AS "rightWorks", b.reasons, b.note, b.dwell_ms AS "dwellMs",
    o.is_automatic AS "isAutomatic", o.is_repeat AS "isRepeat",
    CASE WHEN b.voided_at IS NOT NULL THEN json_build_object('at', ${INSTANT("b.voided_at")}, 'by', b.voided_by, 'why', b.void_reason) END AS voided
  FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id JOIN panels p ON p.id = v.panel_id
    JOIN prompts q ON q.id = o.prompt_id`;

const FILTERS: Record<BallotFilter, string> = {
  all: "true",
  "with a note": "b.note <> ''",
  voided: "b.voided_at IS NOT NULL",
};

interface Wanted {
  voterId: string | null;
  only: BallotFilter;
  /** A ballot's place; only older ones are listed. */
  before: string | null;
  limit: number;
}

/** Ballots one by one, as the lead reads and voids them. */
export function createBallotListRepository(db: Database) {
  const where = (only: BallotFilter) =>
    `WHERE p.edition_id = $1 AND ($2::uuid IS NULL OR v.id = $2) AND ${FILTERS[only]}`;
  return {
    async count(editionId: string, { voterId, only }: Wanted): Promise<number> {
      const [row] = await db.select(
        z.object({ n: z.int() }),
        `SELECT count(*)::int AS n FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
           JOIN panels p ON p.id = v.panel_id ${where(only)}`,
        [editionId, voterId],
      );
      return row!.n;
    },
    list: (editionId: string, { voterId, only, before, limit }: Wanted): Promise<BallotRow[]> => {
      const [at, id] = before?.split("_") ?? [null, null];
      return db.select(
        BallotRow,
        `${SELECT} ${where(only)} AND ($3::timestamptz IS NULL OR (b.cast_at, b.id) < ($3::timestamptz, $4::uuid))
         ORDER BY b.cast_at DESC, b.id DESC LIMIT $5`,
        [editionId, voterId, at, id, limit],
      );
    },
    async find(ballotId: string): Promise<(BallotRow & { editionId: string; panelId: string }) | null> {
      const [row] = await db.select(
        BallotRow.extend({ editionId: z.uuid(), panelId: z.uuid() }),
        `SELECT s.*, p.edition_id AS "editionId", p.id AS "panelId" FROM (${SELECT} WHERE b.id = $1) s
         JOIN voters v ON v.id = s."voterId" JOIN panels p ON p.id = v.panel_id`,
        [ballotId],
      );
      return row ?? null;
    },
    /** False when it does not count already. */
    async void(ballotId: string, why: string, transaction: Transaction): Promise<boolean> {
      const voided = await db.execute(
        "UPDATE ballots SET voided_at = now(), void_reason = $2, voided_by = 'lead' WHERE id = $1 AND voided_at IS NULL",
        [ballotId, why],
        transaction,
      );
      return voided === 1;
    },
    /** False when the lead has not voided it. */
    async restore(ballotId: string, transaction: Transaction): Promise<boolean> {
      const restored = await db.execute(
        "UPDATE ballots SET voided_at = NULL, void_reason = NULL, voided_by = NULL WHERE id = $1 AND voided_by = 'lead'",
        [ballotId],
        transaction,
      );
      return restored === 1;
    },
  };
}
export type BallotListRepository = ReturnType<typeof createBallotListRepository>;
