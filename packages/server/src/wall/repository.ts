import { Failure, Finding, Frame, GenerationState, Outcome, Verdict } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { IS_MISMATCH, REPLANNED } from "../generations/generation-sql.js";

const place = { promptId: z.uuid(), entrantId: z.uuid(), take: z.int() };

const CellFacts = z.object({
  ...place,
  state: GenerationState,
  outcome: Outcome.nullable(),
  costUsd: z.number().nullable(),
  totalMs: z.number().nullable(),
  entryId: z.uuid().nullable(),
  verdict: Verdict.nullable(),
  entryPath: z.string().nullable(),
  renderState: z.enum(["queued", "recorded", "failed"]).nullable(),
  hasError: z.boolean().describe("Whether its recording found an error."),
});
/** What counting needs of one cell and take of the wall. */
export type CellFacts = z.infer<typeof CellFacts>;

const CellRow = z.object({
  ...CellFacts.shape,
  failures: z.array(Failure),
  outcomeDetail: z.string().nullable(),
  isMismatch: z.boolean(),
  reportedModel: z.string().nullable(),
  requestedModel: z.string(),
  renderError: z.string().nullable(),
  frames: z.array(Frame).nullable(),
  motion: z.array(z.number()).nullable(),
  findings: z.array(Finding).nullable(),
});
/** What is known of one cell and take of the wall. */
export type CellRow = z.infer<typeof CellRow>;

const FACTS = `g.prompt_id AS "promptId", g.entrant_id AS "entrantId", g.take, g.state, g.outcome, c.cost AS "costUsd",
  (g.timings->>'totalMs')::float AS "totalMs", e.id AS "entryId", e.verdict, e.entry_path AS "entryPath", v.state AS "renderState",
  coalesce(v.recording @? '$.findings[*] ? (@.severity == "error")', false) AS "hasError"`;

const PICTURES = `g.failures, g.outcome_detail AS "outcomeDetail", ${IS_MISMATCH} AS "isMismatch", g.reported_model AS "reportedModel",
  g.requested_model AS "requestedModel", v.error AS "renderError", v.recording->'frames' AS frames,
  v.recording->'metrics'->'motion' AS motion, v.recording->'findings' AS findings`;

/** The first shots of edition $1, of each take the last stage that has begun, with its newest recording. */
const selectCells = (columns: string, where: string) => `
  SELECT DISTINCT ON (g.prompt_id, g.entrant_id, g.take) ${columns}
  FROM generations g JOIN prompts q ON q.id = g.prompt_id
    LEFT JOIN (SELECT prompt_id, entrant_id, take, sum(cost_usd) AS cost FROM generations
      WHERE mend_round = 0 AND cost_usd IS NOT NULL GROUP BY prompt_id, entrant_id, take) c
      ON c.prompt_id = g.prompt_id AND c.entrant_id = g.entrant_id AND c.take = g.take
    LEFT JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
    LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id ORDER BY r.state = 'recorded' DESC, r.number DESC LIMIT 1) v ON true
  WHERE q.edition_id = $1 AND g.mend_round = 0 ${where}
  ORDER BY g.prompt_id, g.entrant_id, g.take, (g.state = 'waiting'), g.stage DESC`;

const GridRow = z.object({ promptId: z.uuid(), entrantId: z.uuid(), there: z.int() });

export function createWallRepository(db: Database) {
  return {
    /** One take's cells with all that is shown of them. */
    listCells: (editionId: string, take: number) =>
      db.select(CellRow, selectCells(`${FACTS}, ${PICTURES}`, "AND g.take = $2"), [editionId, take]),
    /** Every take's cells, with no more than counting needs. */
    listFacts: (editionId: string) => db.select(CellFacts, selectCells(FACTS, ""), [editionId]),
    /** How many takes of each cell a plan would not send again. */
    listGrid: (editionId: string) =>
      db.select(
        GridRow,
        `SELECT g.prompt_id AS "promptId", g.entrant_id AS "entrantId", count(*)::int AS there
         FROM generations g JOIN prompts q ON q.id = g.prompt_id
         WHERE q.edition_id = $1 AND g.stage = 1 AND g.mend_round = 0 AND g.state NOT IN ${REPLANNED} GROUP BY 1, 2`,
        [editionId],
      ),
  };
}
export type WallRepository = ReturnType<typeof createWallRepository>;
