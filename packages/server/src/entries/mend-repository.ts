import { DEFAULT_MEND_TEMPLATE, type FollowUp, RunOptions } from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";

const RecordedRow = z.object({
  generationId: z.uuid(),
  mendRound: z.int(),
  options: RunOptions.prefault({}),
  mendTemplate: z.string(),
});

/** Follow-ups: what is sent after an answer, each as a generation of its own. */
export function createMendRepository(db: Database) {
  return {
    /** The generation behind a render of what a model made, with its run's options and its suite's template. */
    async findRecorded(renderId: string) {
      const [row] = await db.select(
        RecordedRow,
        `SELECT g.id AS "generationId", g.mend_round AS "mendRound", coalesce(r.options->'options', '{}') AS options,
           coalesce(d.content->>'mendTemplate', $2) AS "mendTemplate"
         FROM renders v JOIN entries e ON e.id = v.entry_id JOIN generations g ON g.id = e.generation_id JOIN runs r ON r.id = g.run_id
           JOIN prompts q ON q.id = g.prompt_id JOIN editions d ON d.id = q.edition_id
         WHERE v.id = $1 AND e.edited_from IS NULL AND NOT g.by_hand AND r.cancelled_at IS NULL
           AND g.stage = 1 + jsonb_array_length(coalesce(q.content->'stages', '[]'))`,
        [renderId, DEFAULT_MEND_TEMPLATE],
      );
      return row ?? null;
    },
    /** Adds the next round after a generation; false when that round is there already. */
    async addFollowUp(generationId: string, followUp: FollowUp, transaction: Transaction): Promise<boolean> {
      const added = await db.execute(
        `INSERT INTO generations (run_id, prompt_id, entrant_id, take, stage, mend_round, follow_up, state, requested_model, endpoint_id, entrant_version, estimate_usd, position)
         SELECT g.run_id, g.prompt_id, g.entrant_id, g.take, g.stage, g.mend_round + 1, $2::jsonb, 'queued', n.model, n.endpoint_id, n.version, g.estimate_usd, g.position
         FROM generations g JOIN entrants n ON n.id = g.entrant_id WHERE g.id = $1
         ON CONFLICT (prompt_id, entrant_id, take, stage, mend_round) DO NOTHING`,
        [generationId, JSON.stringify(followUp)],
        transaction,
      );
      return added === 1;
    },
    /** The newest answered round of every entrant that can be asked again, for one prompt and take. */
    listNewestRounds: (promptId: string, take: number, transaction: Transaction) =>
      db.select(
        z.object({ id: z.uuid() }),
        `SELECT DISTINCT ON (g.entrant_id) g.id FROM generations g JOIN entrants n ON n.id = g.entrant_id
         WHERE g.prompt_id = $1 AND g.take = $2 AND g.state = 'answered' AND g.run_id IS NOT NULL AND n.retired_at IS NULL
         ORDER BY g.entrant_id, g.stage DESC, g.mend_round DESC`,
        [promptId, take],
        transaction,
      ),
  };
}
export type MendRepository = ReturnType<typeof createMendRepository>;
