import { type BallotInput, PromptDefinition } from "@tourney/core/contract";
import type { Candidate, ChosenBout, OwnBout } from "@tourney/core/pairing";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";

const VoterRow = z.object({ id: z.uuid(), panelId: z.uuid(), quota: z.int(), done: z.int() });
export type VoterRow = z.infer<typeof VoterRow>;

const OpenBoutRow = z.object({
  token: z.string(),
  leftToken: z.string(),
  rightToken: z.string(),
  ordinal: z.int(),
  prompt: PromptDefinition,
});
export type OpenBoutRow = z.infer<typeof OpenBoutRow>;

const CandidateRow: z.ZodType<Candidate> = z.object({ entryId: z.uuid(), promptId: z.uuid(), entrantId: z.uuid() });
const OwnBoutRow: z.ZodType<OwnBout> = z.object({
  promptId: z.uuid(),
  left: CandidateRow,
  right: CandidateRow,
  isRepeat: z.boolean(),
});
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

const ENTRANTS_OF_BOUT = `
  JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
  JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id`;

/** Everything the booth needs of the database. Times out of the voter's sight stay here: an open bout is simply unanswered. */
export function createBoothRepository(db: Database) {
  const countDone = `(SELECT count(*)::int FROM bouts o JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL WHERE o.voter_id = v.id)`;
  return {
    async addVoter(panelId: string, tokenHash: string, name: string, sample: boolean): Promise<void> {
      await db.execute("INSERT INTO voters (panel_id, token_hash, name, sample) VALUES ($1, $2, $3, $4)", [
        panelId,
        tokenHash,
        name,
        sample,
      ]);
    },
    async findVoter(panelId: string, tokenHash: string): Promise<VoterRow | null> {
      const [row] = await db.select(
        VoterRow,
        `SELECT v.id, v.panel_id AS "panelId", p.quota, ${countDone} AS done FROM voters v JOIN panels p ON p.id = v.panel_id
         WHERE v.panel_id = $1 AND v.token_hash = $2`,
        [panelId, tokenHash],
      );
      return row ?? null;
    },
    /** Makes everything that issues bouts in a panel take turns until the transaction ends. */
    async lockPanel(panelId: string, transaction: Transaction): Promise<void> {
      await db.execute("SELECT FROM panels WHERE id = $1 FOR UPDATE", [panelId], transaction);
    },
    listOpenBouts: (voterId: string, transaction?: Transaction) =>
      db.select(
        OpenBoutRow,
        `SELECT o.token, o.left_token AS "leftToken", o.right_token AS "rightToken", o.ordinal, q.content AS prompt
         FROM bouts o JOIN prompts q ON q.id = o.prompt_id
         WHERE o.voter_id = $1 AND NOT EXISTS (SELECT FROM ballots b WHERE b.bout_id = o.id AND b.voided_at IS NULL)
         ORDER BY o.ordinal`,
        [voterId],
        transaction,
      ),
    /** Entries that may be shown: first shots that a browser can run and that were recorded. */
    listCandidates: (panelId: string, transaction: Transaction) =>
      db.select(
        CandidateRow,
        `SELECT e.id AS "entryId", g.prompt_id AS "promptId", g.entrant_id AS "entrantId"
         FROM panels p JOIN prompts q ON q.edition_id = p.edition_id JOIN generations g ON g.prompt_id = q.id
           JOIN entries e ON e.generation_id = g.id AND e.mend_round = 0 AND e.edited_from IS NULL AND e.entry_path IS NOT NULL
             AND g.stage = 1 + jsonb_array_length(coalesce(q.content->'stages', '[]'))
         WHERE p.id = $1 AND EXISTS (SELECT FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded')
         ORDER BY q.position, g.entrant_id, g.take`,
        [panelId],
        transaction,
      ),
    /** What was put before this voter, in order. */
    listOwnBouts: (voterId: string, transaction: Transaction) =>
      db.select(
        OwnBoutRow,
        `SELECT o.prompt_id AS "promptId", o.is_repeat AS "isRepeat",
           json_build_object('entryId', el.id, 'promptId', o.prompt_id, 'entrantId', gl.entrant_id) AS left,
           json_build_object('entryId', er.id, 'promptId', o.prompt_id, 'entrantId', gr.entrant_id) AS right
         FROM bouts o ${ENTRANTS_OF_BOUT} WHERE o.voter_id = $1 ORDER BY o.ordinal`,
        [voterId],
        transaction,
      ),
    /** How often what was put before anybody in a panel. */
    countBouts: (panelId: string, transaction: Transaction) =>
      db.select(
        BoutCountRow,
        `SELECT o.prompt_id AS "promptId", gl.entrant_id AS "leftEntrantId", gr.entrant_id AS "rightEntrantId", count(*)::int AS n,
           (count(*) FILTER (WHERE o.issued_at > now() - interval '30 minutes' AND NOT EXISTS
             (SELECT FROM ballots b WHERE b.bout_id = o.id AND b.voided_at IS NULL)))::int AS open
         FROM bouts o JOIN voters v ON v.id = o.voter_id ${ENTRANTS_OF_BOUT} WHERE v.panel_id = $1 GROUP BY 1, 2, 3`,
        [panelId],
        transaction,
      ),
    async addBout(
      voterId: string,
      chosen: ChosenBout,
      tokens: { bout: string; left: string; right: string },
      transaction: Transaction,
    ): Promise<void> {
      await db.execute(
        `INSERT INTO bouts (voter_id, prompt_id, left_entry_id, right_entry_id, ordinal, token, left_token, right_token, reason, is_repeat)
         SELECT $1, $2, $3, $4, coalesce(max(ordinal), 0) + 1, $5, $6, $7, $8, $9 FROM bouts WHERE voter_id = $1`,
        [
          voterId,
          chosen.promptId,
          chosen.left.entryId,
          chosen.right.entryId,
          tokens.bout,
          tokens.left,
          tokens.right,
          chosen.reason,
          chosen.isRepeat,
        ],
        transaction,
      );
    },
    /** The bout of a token with its voter's token hash, or null. */
    async findBout(token: string) {
      const [row] = await db.select(
        z.object({ boutId: z.uuid(), panelId: z.uuid(), tokenHash: z.string() }),
        `SELECT o.id AS "boutId", v.panel_id AS "panelId", v.token_hash AS "tokenHash"
         FROM bouts o JOIN voters v ON v.id = o.voter_id WHERE o.token = $1`,
        [token],
      );
      return row ?? null;
    },
    /** Stores the ballot unless the bout has one; false if it has. */
    async addBallot(boutId: string, input: BallotInput): Promise<boolean> {
      const added = await db.execute(
        `INSERT INTO ballots (bout_id, lean, left_works, right_works, reasons, note, dwell_ms)
         VALUES ($1, $2, $3, $4, $5::jsonb, $6, $7) ON CONFLICT (bout_id) WHERE voided_at IS NULL DO NOTHING`,
        [
          boutId,
          input.lean,
          input.leftWorks,
          input.rightWorks,
          JSON.stringify(input.reasons),
          input.note,
          input.dwellMs,
        ],
      );
      return added === 1;
    },
    async findBallot(boutId: string): Promise<BallotRow | null> {
      const [row] = await db.select(
        BallotRow,
        `SELECT lean, left_works AS "leftWorks", right_works AS "rightWorks", reasons, note FROM ballots WHERE bout_id = $1 AND voided_at IS NULL`,
        [boutId],
      );
      return row ?? null;
    },
    /** Voids the voter's newest ballot, which opens its bout again; false when there is none. */
    async voidLastBallot(voterId: string): Promise<boolean> {
      const voided = await db.execute(
        `UPDATE ballots SET voided_at = now(), void_reason = 'taken back by the voter' WHERE id = (
           SELECT b.id FROM ballots b JOIN bouts o ON o.id = b.bout_id WHERE o.voter_id = $1 AND b.voided_at IS NULL
           ORDER BY b.cast_at DESC, o.ordinal DESC LIMIT 1)`,
        [voterId],
      );
      return voided === 1;
    },
  };
}
export type BoothRepository = ReturnType<typeof createBoothRepository>;
