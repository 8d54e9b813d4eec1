import { BrokenRule } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";

const sides = { leftEntrantId: z.uuid(), rightEntrantId: z.uuid(), lean: z.int(), n: z.int() };
const PromptTally = z.object({
  ...sides,
  promptId: z.uuid(),
  leftFailures: z.int(),
  rightFailures: z.int(),
  sampleN: z.int(),
});
const VoterTally = z.object({ ...sides, voterId: z.uuid() });
const CellTally = z.object({ ...sides, voterId: z.uuid(), promptId: z.uuid() });

/** Ballots counted: what ratings are fitted to. */
export interface Tallies {
  prompt: z.infer<typeof PromptTally>[];
  voter: z.infer<typeof VoterTally>[];
  /** Of voters with several ballots on one prompt. */
  cell: z.infer<typeof CellTally>[];
}

export interface Snapshot {
  editionId: string;
  kind: string | null;
  methodVersion: string;
  inputDigest: string;
  ballots: number;
  ratings: object;
}

const SIDES = `t.left_entrant_id AS "leftEntrantId", t.right_entrant_id AS "rightEntrantId", t.lean, t.n`;

export function createStandingsRepository(db: Database) {
  return {
    /** The counts of an edition's valid ballots, of one kind of prompt or of all, as they are at one moment. */
    listTallies: (editionId: string, kind: string | null): Promise<Tallies> =>
      db.transact(async (transaction) => {
        await db.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ", [], transaction);
        const prompt = await db.select(
          PromptTally,
          `SELECT t.prompt_id AS "promptId", ${SIDES}, t.left_failures AS "leftFailures", t.right_failures AS "rightFailures",
             t.sample_n AS "sampleN"
           FROM prompt_tallies t JOIN prompts q ON q.id = t.prompt_id
           WHERE t.n > 0 AND q.edition_id = $1 AND ($2::text IS NULL OR q.kind = $2)
           ORDER BY q.position, t.left_entrant_id, t.right_entrant_id, t.lean`,
          [editionId, kind],
          transaction,
        );
        const voter = await db.select(
          VoterTally,
          `SELECT t.voter_id AS "voterId", t.left_entrant_id AS "leftEntrantId", t.right_entrant_id AS "rightEntrantId", t.lean,
             sum(t.n)::int AS n
           FROM voter_tallies t WHERE t.n > 0 AND t.edition_id = $1 AND ($2::text IS NULL OR t.kind = $2)
           GROUP BY 1, 2, 3, 4 ORDER BY 1, 2, 3, 4`,
          [editionId, kind],
          transaction,
        );
        const cell = await db.select(
          CellTally,
          `SELECT c.voter_id AS "voterId", c.prompt_id AS "promptId", gl.entrant_id AS "leftEntrantId", gr.entrant_id AS "rightEntrantId",
             b.lean, count(*)::int AS n
           FROM voter_prompt_tallies c JOIN prompts q ON q.id = c.prompt_id
             JOIN bouts o ON o.voter_id = c.voter_id AND o.prompt_id = c.prompt_id
             JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
             JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
             JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
           WHERE c.n > 1 AND q.edition_id = $1 AND ($2::text IS NULL OR q.kind = $2)
           GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5`,
          [editionId, kind],
          transaction,
        );
        return { prompt, voter, cell };
      }),
    /** How the panels of an edition that have ballots treat entries that show nothing. */
    listBrokenRules: (editionId: string) =>
      db.select(
        z.object({ rule: BrokenRule, panels: z.array(z.string()), unseen: z.int() }),
        `SELECT p.broken_rule AS rule, json_agg(p.title ORDER BY p.title) AS panels, sum(p.unseen)::int AS unseen
         FROM (SELECT p.broken_rule, p.title, count(*) FILTER (WHERE o.is_automatic) AS unseen
           FROM panels p JOIN voters v ON v.panel_id = p.id AND v.left_out_at IS NULL JOIN bouts o ON o.voter_id = v.id
             JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
           WHERE p.edition_id = $1 GROUP BY p.id) p GROUP BY 1 ORDER BY 1`,
        [editionId],
      ),
    /** Keeps what the ballots came to. The same input and method are kept once; of those of one minute, the last. */
    async keepSnapshot({ editionId, kind, methodVersion, inputDigest, ballots, ratings }: Snapshot): Promise<void> {
      await db.transact(async (transaction) => {
        await db.execute(
          `DELETE FROM rating_snapshots WHERE edition_id = $1 AND kind IS NOT DISTINCT FROM $2 AND method_version = $3
             AND counted_at >= date_trunc('minute', now())`,
          [editionId, kind, methodVersion],
          transaction,
        );
        await db.execute(
          `INSERT INTO rating_snapshots (edition_id, kind, method_version, input_digest, ballots, ratings)
           VALUES ($1, $2, $3, $4, $5, $6::jsonb) ON CONFLICT DO NOTHING`,
          [editionId, kind, methodVersion, inputDigest, ballots, JSON.stringify(ratings)],
          transaction,
        );
      });
    },
  };
}
export type StandingsRepository = ReturnType<typeof createStandingsRepository>;
