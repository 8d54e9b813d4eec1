import * as z from "zod";
import type { Database } from "../db/connection.js";

const BallotRow = z.object({
  voterId: z.uuid(),
  promptId: z.uuid(),
  leftEntrantId: z.uuid(),
  rightEntrantId: z.uuid(),
  lean: z.int(),
  leftWorks: z.boolean(),
  rightWorks: z.boolean(),
  sample: z.boolean(),
});
export type BallotRow = z.infer<typeof BallotRow>;

export function createStandingsRepository(db: Database) {
  return {
    /** All valid ballots of an edition, of one kind of prompt or of all. */
    listBallots: (editionId: string, kind: string | null) =>
      db.select(
        BallotRow,
        `SELECT o.voter_id AS "voterId", o.prompt_id AS "promptId", gl.entrant_id AS "leftEntrantId", gr.entrant_id AS "rightEntrantId",
           b.lean, b.left_works AS "leftWorks", b.right_works AS "rightWorks", v.sample
         FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id JOIN prompts q ON q.id = o.prompt_id
           JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
           JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
         WHERE b.voided_at IS NULL AND q.edition_id = $1 AND ($2::text IS NULL OR q.kind = $2)
         ORDER BY b.cast_at, b.id`,
        [editionId, kind],
      ),
  };
}
export type StandingsRepository = ReturnType<typeof createStandingsRepository>;
