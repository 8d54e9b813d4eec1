import { Kind, Reason, SkipReason } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate } from "../db/row.js";

const BallotRow = z.object({
  voterId: z.uuid(),
  promptId: z.uuid(),
  kind: Kind,
  leftEntryId: z.uuid(),
  rightEntryId: z.uuid(),
  leftEntrantId: z.uuid(),
  rightEntrantId: z.uuid(),
  lean: z.int(),
  reasons: z.array(Reason),
  dwellMs: z.int(),
  isAutomatic: z.boolean(),
});
export type ReportBallot = z.infer<typeof BallotRow>;

const VoterRow = z.object({
  voterId: z.uuid(),
  panelTitle: z.string(),
  name: z.string(),
  sample: z.boolean(),
  leftOut: z.string().nullable(),
});
export type ReportVoter = z.infer<typeof VoterRow>;

export function createReportRepository(db: Database) {
  return {
    listBallots: (editionId: string) =>
      db.select(
        BallotRow,
        `SELECT o.voter_id AS "voterId", o.prompt_id AS "promptId", q.kind, o.left_entry_id AS "leftEntryId", o.right_entry_id AS "rightEntryId",
           gl.entrant_id AS "leftEntrantId", gr.entrant_id AS "rightEntrantId", b.lean, b.reasons, b.dwell_ms AS "dwellMs",
           o.is_automatic AS "isAutomatic"
         FROM prompts q JOIN bouts o ON o.prompt_id = q.id JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
           JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
           JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
         WHERE q.edition_id = $1 ORDER BY b.cast_at`,
        [editionId],
      ),
    listVoters: (editionId: string) =>
      db.select(
        VoterRow,
        `SELECT v.id AS "voterId", p.title AS "panelTitle", v.name, v.sample, v.left_out_why AS "leftOut"
         FROM panels p JOIN voters v ON v.panel_id = p.id WHERE p.edition_id = $1 ORDER BY p.created_at, v.created_at, v.name`,
        [editionId],
      ),
    listHours: (editionId: string) =>
      db.select(
        z.object({ at: isoDate, ballots: z.int() }),
        `SELECT date_trunc('hour', b.cast_at) AS at, count(*)::int AS ballots
         FROM prompts q JOIN bouts o ON o.prompt_id = q.id JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
         WHERE q.edition_id = $1 AND NOT o.is_automatic AND b.cast_at > date_trunc('hour', now()) - interval '23 hours' GROUP BY 1 ORDER BY 1`,
        [editionId],
      ),
    async countLastHour(editionId: string): Promise<number> {
      const [row] = await db.select(
        z.object({ ballots: z.int() }),
        `SELECT count(*)::int AS ballots FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN prompts q ON q.id = o.prompt_id
         WHERE q.edition_id = $1 AND b.voided_at IS NULL AND NOT o.is_automatic AND b.cast_at > now() - interval '1 hour'`,
        [editionId],
      );
      return row!.ballots;
    },
    listSkips: (editionId: string) =>
      db.select(
        z.object({ reason: SkipReason, count: z.int() }),
        `SELECT o.skip_reason AS reason, count(*)::int AS count FROM bouts o JOIN prompts q ON q.id = o.prompt_id
         WHERE q.edition_id = $1 AND o.skipped_at IS NOT NULL GROUP BY 1 ORDER BY 2 DESC`,
        [editionId],
      ),
    listEntrants: (editionId: string) =>
      db.select(
        z.object({ id: z.uuid(), name: z.string(), glyph: z.int() }),
        `SELECT n.id, n.name, n.glyph FROM entrants n WHERE EXISTS (SELECT FROM generations g JOIN prompts q ON q.id = g.prompt_id
           JOIN entries e ON e.generation_id = g.id WHERE g.entrant_id = n.id AND q.edition_id = $1 AND e.entry_path IS NOT NULL) ORDER BY n.name`,
        [editionId],
      ),
  };
}
export type ReportRepository = ReturnType<typeof createReportRepository>;
