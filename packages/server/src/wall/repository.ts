import { Failure, Finding, Frame, GenerationState, Outcome, Verdict } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { IS_MISMATCH, REPLANNED } from "../generations/generation-sql.js";

const standing = {
  state: GenerationState,
  outcome: Outcome.nullable(),
  verdict: Verdict.nullable(),
  hasEntry: z.boolean(),
  hasPage: z.boolean().describe("Whether its entry has something a browser can open."),
  renderState: z.enum(["queued", "recorded", "failed"]).nullable(),
  hasError: z.boolean().describe("Whether its recording found an error."),
};
/** How far one cell and take of the wall has come. */
export type CellStanding = z.infer<z.ZodObject<typeof standing>>;

const CellFacts = z.object({
  ...standing,
  entrantId: z.uuid(),
  cells: z.int(),
  takes: z.int().describe("The highest number of a take among them."),
  costUsd: z.number().nullable().describe("Sum of those whose cost is known."),
  costed: z.int().describe("How many those are."),
  totalsMs: z.array(z.number()),
});
/** The cells of an entrant that have come equally far, counted: few rows, however large the wall. */
export type CellFacts = z.infer<typeof CellFacts>;

const CellRow = z.object({
  ...standing,
  promptId: z.uuid(),
  entrantId: z.uuid(),
  take: z.int(),
  entryId: z.uuid().nullable(),
  failures: z.array(Failure),
  outcomeDetail: z.string().nullable(),
  isMismatch: z.boolean(),
  reportedModel: z.string().nullable(),
  requestedModel: z.string(),
  renderError: z.string().nullable(),
  rendererVersion: z.string().nullable(),
  frames: z.array(Frame).nullable(),
  motion: z.array(z.number()).nullable(),
  findings: z.array(Finding).nullable(),
});
/** What is known of one cell and take of the wall. */
export type CellRow = z.infer<typeof CellRow>;

const STANDING = `g.state, g.outcome, e.verdict, e.id IS NOT NULL AS "hasEntry", e.entry_path IS NOT NULL AS "hasPage",
  v.state AS "renderState", coalesce(v.recording @? '$.findings[*] ? (@.severity == "error")', false) AS "hasError"`;

const FACTS = `${STANDING}, g.entrant_id AS "entrantId", g.take, (g.timings->>'totalMs')::float AS "totalMs",
  sum(g.cost_usd) OVER (PARTITION BY g.prompt_id, g.entrant_id, g.take) AS cost`;

const PICTURES = `${STANDING}, g.prompt_id AS "promptId", g.entrant_id AS "entrantId", g.take, e.id AS "entryId", g.failures, g.outcome_detail AS "outcomeDetail", ${IS_MISMATCH} AS "isMismatch", g.reported_model AS "reportedModel",
  g.requested_model AS "requestedModel", v.error AS "renderError", v.recording->>'rendererVersion' AS "rendererVersion", v.recording->'frames' AS frames,
  v.recording->'metrics'->'motion' AS motion, v.recording->'findings' AS findings`;

/** The first shots of edition $1, of each take the last stage that has begun, with its newest recording. */
const selectCells = (columns: string, where: string) => `
  SELECT DISTINCT ON (g.prompt_id, g.entrant_id, g.take) ${columns}
  FROM generations g JOIN prompts q ON q.id = g.prompt_id
    LEFT JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
    LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id ORDER BY r.state = 'recorded' DESC, r.number DESC LIMIT 1) v ON true
  WHERE q.edition_id = $1 AND g.mend_round = 0 ${where}
  ORDER BY g.prompt_id, g.entrant_id, g.take, (g.state = 'waiting'), g.stage DESC`;

const GridRow = z.object({ promptId: z.uuid(), entrantId: z.uuid(), there: z.int() });

export function createWallRepository(db: Database) {
  return {
    /** One take's cells with all that is shown of them. */
    listCells: (editionId: string, take: number) =>
      db.select(CellRow, selectCells(PICTURES, "AND g.take = $2"), [editionId, take]),
    /** Every take's cells, counted by entrant and by how far they have come. */
    listFacts: (editionId: string) =>
      db.select(
        CellFacts,
        `SELECT state, outcome, verdict, "hasEntry", "hasPage", "renderState", "hasError", "entrantId", count(*)::int AS cells,
           max(take) AS takes, sum(cost) AS "costUsd", count(cost)::int AS costed,
           coalesce(array_agg("totalMs") FILTER (WHERE "totalMs" IS NOT NULL), '{}') AS "totalsMs"
         FROM (${selectCells(FACTS, "")}) f GROUP BY 1, 2, 3, 4, 5, 6, 7, 8`,
        [editionId],
      ),
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
