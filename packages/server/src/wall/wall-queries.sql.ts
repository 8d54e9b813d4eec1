import { Failure, Finding, Frame, GenerationState, Outcome, Verdict } from "@tourney/core/contract";
import * as z from "zod";
import { isoDateOrNull } from "../db/row.js";

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

export const CellFacts = z.object({
  ...standing,
  versionId: z.uuid(),
  isHelped: z.boolean().describe("Whether it was helped by hand, and so does not work by itself."),
  cells: z.int(),
  takes: z.int().describe("The highest number of a take among them."),
  costUsd: z.number().nullable().describe("Sum of those whose cost is known."),
  costed: z.int().describe("How many those are."),
  totalsMs: z.array(z.number()),
});
/** The cells of a version that have come equally far, counted: few rows, however large the wall. */
export type CellFacts = z.infer<typeof CellFacts>;

export const CellRow = z.object({
  ...standing,
  promptId: z.uuid(),
  entrantId: z.uuid(),
  versionId: z.uuid(),
  take: z.int(),
  entryId: z.uuid().nullable(),
  answeredAt: isoDateOrNull,
  failures: z.array(Failure),
  outcomeDetail: z.string().nullable(),
  isMismatch: z.boolean(),
  isMismatchAccepted: z.boolean(),
  offTask: z.string().nullable(),
  isOtherRecipe: z.boolean().describe("Whether its recording was made by another recipe than the edition's."),
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

const FACTS = `${STANDING}, g.version_id AS "versionId", g.take, g.hand_help IS NOT NULL AS "isHelped", (g.timings->>'totalMs')::float AS "totalMs",
  sum(g.cost_usd) OVER (PARTITION BY g.wording_id, g.version_id, g.take) AS cost`;

const PICTURES = `${STANDING}, q.id AS "promptId", g.entrant_id AS "entrantId", g.version_id AS "versionId", g.take, e.id AS "entryId", g.answered_at AS "answeredAt", g.failures, g.outcome_detail AS "outcomeDetail", g.is_mismatch AS "isMismatch", g.mismatch_accepted_at IS NOT NULL AS "isMismatchAccepted", g.off_task AS "offTask",
  coalesce(v.recipe_digest <> q.recipe_digest, false) AS "isOtherRecipe", g.reported_model AS "reportedModel",
  g.requested_model AS "requestedModel", v.error AS "renderError", v.recording->>'rendererVersion' AS "rendererVersion", v.recording->'frames' AS frames,
  v.recording->'metrics'->'motion' AS motion, v.recording->'findings' AS findings`;

/** Whether a wall shows entrants as they are set up now, or all versions they had. */
export type Versions = "present" | "all";
const OF_VERSIONS: Readonly<Record<Versions, string>> = {
  present: "JOIN entrants n ON n.version_id = g.version_id",
  all: "JOIN entrants n ON n.id = g.entrant_id",
};

/**
 * The first shots that hold for the wordings of edition $1, whichever edition asked for them; of each take the last turn that has begun, with
 * its newest recording, one by the edition's own recipe before others.
 */
const selectCells = (columns: string, versions: Versions, where: string) => `
  SELECT DISTINCT ON (g.wording_id, g.version_id, g.take) ${columns}
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id ${OF_VERSIONS[versions]}
    LEFT JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
    LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id
      ORDER BY r.state = 'recorded' DESC, r.recipe_digest = q.recipe_digest DESC, r.number DESC LIMIT 1) v ON true
  WHERE q.edition_id = $1 AND g.round = 0 AND g.superseded_at IS NULL ${where}
  ORDER BY g.wording_id, g.version_id, g.take, g.state IN ('waiting', 'cancelled'), g.turn DESC`;

/** One take's cells with all that is shown of them. */
export const cellsOfTake = (versions: Versions) => selectCells(PICTURES, versions, "AND g.take = $2");

/** Every take's cells of one kind of prompt ($2) or of all, counted by version and by how far they have come. */
export const countedCells = (versions: Versions) => `
  SELECT "versionId", state, outcome, verdict, "hasEntry", "hasPage", "renderState", "hasError", "isHelped", count(*)::int AS cells,
    max(take) AS takes, sum(cost) AS "costUsd", count(cost)::int AS costed,
    coalesce(array_agg("totalMs") FILTER (WHERE "totalMs" IS NOT NULL), '{}') AS "totalsMs"
  FROM (${selectCells(FACTS, versions, "AND ($2::text IS NULL OR q.kind = $2)")}) f GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9`;

/** Versions with an answer to a wording of edition $1 that are no entrant's present one. */
export const FORMER_VERSIONS = `
  SELECT v.id, v.number, v.entrant_id AS "entrantId",
    (SELECT min(o.created_at) FROM entrant_versions o WHERE o.entrant_id = v.entrant_id AND o.number > v.number) AS until
  FROM entrant_versions v JOIN entrants n ON n.id = v.entrant_id
  WHERE v.id <> n.version_id AND EXISTS (SELECT FROM generations g JOIN prompts q ON q.wording_id = g.wording_id
    WHERE g.version_id = v.id AND q.edition_id = $1 AND g.state = 'answered' AND g.superseded_at IS NULL)
  ORDER BY v.entrant_id, v.number`;
export const FormerRow = z.object({ id: z.uuid(), number: z.int(), entrantId: z.uuid(), until: isoDateOrNull });
export type FormerRow = z.infer<typeof FormerRow>;

/** How many takes of each cell a plan would not send again. */
export const GRID = `
  SELECT q.id AS "promptId", g.entrant_id AS "entrantId", count(*)::int AS there
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entrants n ON n.version_id = g.version_id
  WHERE q.edition_id = $1 AND g.turn = 1 AND g.round = 0 AND g.superseded_at IS NULL AND NOT (g.state = ANY($2::text[])) GROUP BY 1, 2`;

export const GridRow = z.object({ promptId: z.uuid(), entrantId: z.uuid(), there: z.int() });
