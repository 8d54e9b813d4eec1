import { PromptDefinition } from "@tourney/core/contract";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { OPEN_FOR } from "./turn.js";

const VoterRow = z.object({
  id: z.uuid(),
  panelId: z.uuid(),
  quota: z.int(),
  done: z.int(),
  revoked: z.boolean(),
});
export type VoterRow = z.infer<typeof VoterRow>;

const EntryOfBout = z.object({ entryId: z.uuid(), promptId: z.uuid(), entrantId: z.uuid() });
const CandidateRow = EntryOfBout.extend({ likeness: z.string().nullable(), isBroken: z.boolean() });
const BoutCountRow = z.object({
  promptId: z.uuid(),
  leftEntrantId: z.uuid(),
  rightEntrantId: z.uuid(),
  n: z.int(),
  /** Of them, those that were put before somebody lately and are not answered yet. */
  open: z.int(),
});

const BallotRow = z.object({
  lean: z.int(),
  leftWorks: z.boolean(),
  rightWorks: z.boolean(),
  reasons: z.array(z.string()),
  note: z.string(),
});
export type BallotRow = z.infer<typeof BallotRow>;

/** Findings of a recording that show nothing. */
const BROKEN_FINDINGS = "'blank', 'crashed', 'hung'";

/** Everything the booth needs of the database. Times out of the voter's sight stay here: an open bout is simply unanswered. */
export function createBoothRepository(db: Database) {
  const countDone = `(SELECT count(*)::int FROM bouts o JOIN ballots b ON b.bout_id = o.id AND (b.voided_at IS NULL OR b.voided_by = 'lead')
    WHERE o.voter_id = v.id AND NOT o.is_automatic)`;
  return {
    async addVoter(
      panelId: string,
      tokenHash: string,
      { name, sample, isLead }: { name: string; sample: boolean; isLead: boolean },
    ): Promise<void> {
      await db.execute("INSERT INTO voters (panel_id, token_hash, name, sample, is_lead) VALUES ($1, $2, $3, $4, $5)", [
        panelId,
        tokenHash,
        name,
        sample,
        isLead,
      ]);
    },
    async findVoter(panelId: string, tokenHash: string, transaction?: Transaction): Promise<VoterRow | null> {
      const [row] = await db.select(
        VoterRow,
        `SELECT v.id, v.panel_id AS "panelId", p.quota, ${countDone} AS done, v.revoked_at IS NOT NULL AS revoked FROM voters v JOIN panels p ON p.id = v.panel_id
         WHERE v.panel_id = $1 AND v.token_hash = $2`,
        [panelId, tokenHash],
        transaction,
      );
      return row ?? null;
    },
    /** Makes takings back of one voter wait for each other until the transaction ends. */
    async lockVoter(voterId: string, transaction: Transaction): Promise<void> {
      await db.execute("SELECT FROM voters WHERE id = $1 FOR NO KEY UPDATE", [voterId], transaction);
    },
    /**
     * Entries that a panel may show: first shots that a browser can run and that were recorded, none that the lead leaves out. Two whose
     * frames are the same to the pixel have the same likeness, and so have all that are broken where those lose without being shown.
     */
    listCandidates: (panelId: string) =>
      db.select(
        CandidateRow,
        `SELECT * FROM (SELECT e.id AS "entryId", g.prompt_id AS "promptId", g.entrant_id AS "entrantId",
           CASE WHEN p.broken_rule = 'lose' AND s.broken THEN 'broken' ELSE s.likeness END AS likeness, s.broken AS "isBroken",
           p.broken_rule, q.position, g.take
         FROM panels p JOIN prompts q ON q.edition_id = p.edition_id JOIN generations g ON g.prompt_id = q.id
           JOIN entries e ON e.generation_id = g.id AND e.mend_round = 0 AND e.edited_from IS NULL AND e.entry_path IS NOT NULL
             AND g.stage = 1 + jsonb_array_length(coalesce(q.content->'stages', '[]'))
           CROSS JOIN LATERAL (SELECT md5((SELECT string_agg(f->>'sha256', '' ORDER BY (f->>'atMs')::int)
                FROM jsonb_array_elements(r.recording->'frames') f)) AS likeness,
              r.recording->>'outcome' IN ('crashed', 'hung', 'memory', 'failed') OR EXISTS (
                SELECT FROM jsonb_array_elements(r.recording->'findings') f WHERE f->>'rule' IN (${BROKEN_FINDINGS})) AS broken
              FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded' ORDER BY r.number DESC LIMIT 1) s
         WHERE p.id = $1 AND (p.prompt_ids IS NULL OR q.id = ANY(p.prompt_ids))
           AND (p.entrant_ids IS NULL OR g.entrant_id = ANY(p.entrant_ids))
           AND NOT EXISTS (SELECT FROM booth_exclusions x WHERE x.entry_id = e.id)) c
         WHERE NOT ("isBroken" AND broken_rule = 'leave_out')
         ORDER BY c.position, c."entrantId", c.take`,
        [panelId],
      ),
    /** Prompts of an edition, which never change once something has been made for them. */
    listPrompts: (editionId: string) =>
      db.select(
        z.object({ id: z.uuid(), content: PromptDefinition }),
        "SELECT id, content FROM prompts WHERE edition_id = $1",
        [editionId],
      ),
    /** How a panel treats broken entries. */
    async losesUnseen(panelId: string): Promise<boolean> {
      const [row] = await db.select(
        z.object({ loses: z.boolean() }),
        "SELECT broken_rule = 'lose' AS loses FROM panels WHERE id = $1",
        [panelId],
      );
      return row?.loses ?? false;
    },
    /** How often what was put before anybody in a panel. */
    countBouts: (panelId: string) =>
      db.select(
        BoutCountRow,
        `SELECT o.prompt_id AS "promptId", o.left_entrant_id AS "leftEntrantId", o.right_entrant_id AS "rightEntrantId", count(*)::int AS n,
           (count(*) FILTER (WHERE b.id IS NULL))::int AS open
         FROM voters v JOIN bouts o ON o.voter_id = v.id LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
         WHERE v.panel_id = $1 AND (b.id IS NOT NULL OR (o.skipped_at IS NULL AND o.issued_at > now() - interval '${OPEN_FOR}'))
         GROUP BY 1, 2, 3`,
        [panelId],
      ),
    /** Passes a bout over; false when it has a ballot, or was passed over before. */
    async skipBout(boutId: string, reason: string, transaction: Transaction): Promise<boolean> {
      // Locked first: a ballot cast at the same moment is stored before it or not at all.
      await db.execute("SELECT FROM bouts WHERE id = $1 FOR UPDATE", [boutId], transaction);
      const skipped = await db.execute(
        `UPDATE bouts o SET skipped_at = now(), skip_reason = $2 WHERE id = $1 AND skipped_at IS NULL
           AND NOT EXISTS (SELECT FROM ballots b WHERE b.bout_id = o.id AND b.voided_at IS NULL)`,
        [boutId, reason],
        transaction,
      );
      return skipped === 1;
    },
    async findBallot(boutId: string): Promise<BallotRow | null> {
      const [row] = await db.select(
        BallotRow,
        `SELECT lean, left_works AS "leftWorks", right_works AS "rightWorks", reasons, note FROM ballots WHERE bout_id = $1 AND voided_at IS NULL`,
        [boutId],
      );
      return row ?? null;
    },
    /** Voids the voter's newest ballot, which opens its bout again; the bout's id, or null when there is none. */
    async voidLastBallot(voterId: string, transaction: Transaction): Promise<string | null> {
      const [voided] = await db.select(
        z.object({ boutId: z.uuid() }),
        `UPDATE ballots SET voided_at = now(), void_reason = 'taken back by the voter', voided_by = 'voter' WHERE id = (
           SELECT b.id FROM ballots b JOIN bouts o ON o.id = b.bout_id
           WHERE o.voter_id = $1 AND b.voided_at IS NULL AND NOT o.is_automatic
           ORDER BY b.cast_at DESC, o.ordinal DESC LIMIT 1) RETURNING bout_id AS "boutId"`,
        [voterId],
        transaction,
      );
      if (!voided) return null;
      await db.execute("UPDATE bouts SET issued_at = now() WHERE id = $1", [voided.boutId], transaction);
      return voided.boutId;
    },
  };
}
export type BoothRepository = ReturnType<typeof createBoothRepository>;
