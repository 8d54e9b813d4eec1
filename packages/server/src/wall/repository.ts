import { Failure, Finding, Frame, GenerationState, Outcome, Verdict } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";

const CellRow = z.object({
  promptId: z.uuid(),
  entrantId: z.uuid(),
  take: z.int(),
  state: GenerationState,
  failures: z.array(Failure),
  outcome: Outcome.nullable(),
  outcomeDetail: z.string().nullable(),
  reportedModel: z.string().nullable(),
  requestedModel: z.string(),
  entrantVersion: z.int(),
  costUsd: z.number().nullable(),
  totalMs: z.number().nullable(),
  entryId: z.uuid().nullable(),
  verdict: Verdict.nullable(),
  entryPath: z.string().nullable(),
  renderState: z.enum(["queued", "recorded", "failed"]).nullable(),
  renderError: z.string().nullable(),
  frames: z.array(Frame).nullable(),
  motion: z.array(z.number()).nullable(),
  findings: z.array(Finding).nullable(),
});
/** What is known of one cell and take of the wall. */
export type CellRow = z.infer<typeof CellRow>;

export function createWallRepository(db: Database) {
  return {
    /** The first shots of an edition, of each take the last stage that has begun, with its newest recording. */
    listCells: (editionId: string) =>
      db.select(
        CellRow,
        `SELECT DISTINCT ON (g.prompt_id, g.entrant_id, g.take) g.prompt_id AS "promptId", g.entrant_id AS "entrantId", g.take, g.state,
           g.failures, g.outcome, g.outcome_detail AS "outcomeDetail", g.reported_model AS "reportedModel", g.requested_model AS "requestedModel",
           g.entrant_version AS "entrantVersion",
           c.cost AS "costUsd",
           (g.timings->>'totalMs')::float AS "totalMs", e.id AS "entryId", e.verdict, e.entry_path AS "entryPath",
           v.state AS "renderState", v.error AS "renderError", v.recording->'frames' AS frames,
           v.recording->'metrics'->'motion' AS motion, v.recording->'findings' AS findings
         FROM generations g JOIN prompts q ON q.id = g.prompt_id
           LEFT JOIN (SELECT prompt_id, entrant_id, take, sum(cost_usd) AS cost FROM generations
             WHERE mend_round = 0 AND cost_usd IS NOT NULL GROUP BY prompt_id, entrant_id, take) c
             ON c.prompt_id = g.prompt_id AND c.entrant_id = g.entrant_id AND c.take = g.take
           LEFT JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
           LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id ORDER BY r.state = 'recorded' DESC, r.number DESC LIMIT 1) v ON true
         WHERE q.edition_id = $1 AND g.mend_round = 0
         ORDER BY g.prompt_id, g.entrant_id, g.take, (g.state = 'waiting'), g.stage DESC`,
        [editionId],
      ),
  };
}
export type WallRepository = ReturnType<typeof createWallRepository>;
