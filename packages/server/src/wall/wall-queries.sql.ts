import { Failure, Finding, GenerationState, Outcome, PictureFile, Strip, Verdict } from "@tourney/core/contract";
import * as z from "zod";
import { keepPlan } from "../db/kept-plan.js";
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
  ...{ wordingId: z.uuid(), promptId: z.uuid(), versionId: z.uuid() },
  isHelped: z.boolean().describe("Whether it was helped by hand, and so does not work by itself."),
  cells: z.int(),
  takes: z.int().describe("The highest number of a take among them."),
  costUsd: z.number().nullable().describe("Sum of those whose cost is known."),
  costed: z.int().describe("How many those are."),
  tokens: z.number().describe("Output tokens of those that told them."),
  tokened: z.int().describe("How many those are."),
  timedTokens: z.number().describe("The same of those whose time is known, too."),
  timedMs: z.number().describe("The time of those."),
  totalsMs: z.array(z.number()),
});
/** The cells of a version on a prompt that have come equally far, counted: few rows, however many takes there are. */
export type CellFacts = z.infer<typeof CellFacts>;

export const CellRow = z.object({
  ...standing,
  wordingId: z.uuid(),
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
  picture: PictureFile.nullable().describe("From the middle of the recording."),
  motion: z.array(z.number()).nullable(),
  findings: z
    .array(Finding.pick({ rule: true, severity: true, message: true }))
    .nullable()
    .describe("Without notes."),
  entries: z.int(),
});
/** What is known of one cell and take of the wall. */
export type CellRow = z.infer<typeof CellRow>;

const STANDING = `g.state, g.outcome, e.verdict, e.id IS NOT NULL AS "hasEntry", e.entry_path IS NOT NULL AS "hasPage",
  v.state AS "renderState", coalesce(v.has_error, false) AS "hasError"`;

const FACTS = `${STANDING}, g.wording_id AS "wordingId", q.id AS "promptId", g.version_id AS "versionId", g.take, g.hand_help IS NOT NULL AS "isHelped", (g.timings->>'totalMs')::float AS "totalMs",
  (g.usage->>'outputTokens')::float AS tokens,
  sum(g.cost_usd) OVER (PARTITION BY g.wording_id, g.version_id, g.take) AS cost`;

const PICTURES = `${STANDING}, g.wording_id AS "wordingId", q.id AS "promptId", g.entrant_id AS "entrantId", g.version_id AS "versionId", g.take, e.id AS "entryId", g.answered_at AS "answeredAt", g.failures, g.outcome_detail AS "outcomeDetail", g.is_mismatch AS "isMismatch", g.mismatch_accepted_at IS NOT NULL AS "isMismatchAccepted", g.off_task AS "offTask",
  coalesce(v.recipe_digest <> q.recipe_digest, false) AS "isOtherRecipe", g.reported_model AS "reportedModel",
  g.requested_model AS "requestedModel", v.error AS "renderError", v.renderer_version AS "rendererVersion",
  v.motion, v.middle_picture AS picture, v.faults AS findings, coalesce(made.entries, 0) AS entries`;

/** Of which wordings of an edition rows are read. One, which is what mostly has changed, has statements of its own. A followed wall sends them after each change, so their plans are kept. */
export type Reach = "all" | "one" | "some";

/** @param at the number of the parameter that names the wording or wordings, the last; none for all */
const isOf = (reach: Reach, at: number, alias = "g"): string =>
  ({ all: "true", one: `${alias}.wording_id = $${at}`, some: `${alias}.wording_id = ANY($${at})` })[reach];

const keepIfOne = (reach: Reach, sql: string): string => (reach === "one" ? keepPlan(sql) : sql);

/** How many entries there are in each place; of some wordings alone where only those are read, or the few cells of one would wait for all to be counted. */
const countMade = (reach: Reach) => `
  LEFT JOIN (SELECT h.wording_id, h.version_id, count(*)::int AS entries FROM prompts p JOIN generations h ON h.wording_id = p.wording_id
    JOIN entries o ON o.generation_id = h.id WHERE p.edition_id = $1 AND h.superseded_at IS NULL
      AND ${isOf(reach, 4, "h")} GROUP BY 1, 2) made
    ON made.wording_id = g.wording_id AND made.version_id = g.version_id`;

/** The recording that stands for entry `e`, first: one by the recipe of prompt `q` before others. */
const NEWEST_RECORDING = `r.state = 'recorded' DESC, (r.recipe_digest = q.recipe_digest) IS TRUE DESC, r.number DESC`;

/** Whether a wall shows entrants as they are set up now, or all versions they had. */
export type Versions = "present" | "all";
const OF_VERSIONS: Readonly<Record<Versions, string>> = {
  present: "JOIN entrants n ON n.version_id = g.version_id",
  all: "JOIN entrants n ON n.id = g.entrant_id",
};

/**
 * What holds for the wordings of edition $1, whichever edition asked for it; of each take the last turn that has begun, with its newest
 * recording, one by the edition's own recipe before others. Entries are looked up one by one (OFFSET 0 keeps it so): for the few cells of one wording the database would else go through
 * all entries.
 */
const selectCells = (
  columns: string,
  versions: Versions,
  { from = "", where, of = "g.wording_id, g.version_id, g.take" }: { from?: string; where: string; of?: string },
) => `
  SELECT DISTINCT ON (${of}) ${columns}
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id ${OF_VERSIONS[versions]}
    LEFT JOIN LATERAL (SELECT * FROM entries o WHERE o.generation_id = g.id AND o.edited_from IS NULL OFFSET 0) e ON true
    LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id
      ORDER BY ${NEWEST_RECORDING} LIMIT 1) v ON true ${from}
  WHERE q.edition_id = $1 AND g.superseded_at IS NULL AND ${where}
  ORDER BY ${of}, g.state IN ('waiting', 'cancelled'), g.turn DESC`;

/** The cells of take $2 and round $3 with all that is shown of them: all, or those of wording or wordings $4. */
export const cellsOfTake = (versions: Versions, reach: Reach) =>
  keepIfOne(
    reach,
    selectCells(PICTURES, versions, {
      from: countMade(reach),
      where: `g.take = $2 AND g.round = $3 AND ${isOf(reach, 4)}`,
    }),
  );

/** The pictures of entry $1, of the recording that the wall of edition $2 shows, or of the newest. */
export const STRIP = `
  SELECT rec.frames, rec.sprite FROM entries e JOIN generations g ON g.id = e.generation_id
    LEFT JOIN prompts q ON q.wording_id = g.wording_id AND q.edition_id = $2
    LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id ORDER BY ${NEWEST_RECORDING} LIMIT 1) v ON true
    LEFT JOIN LATERAL jsonb_to_record(v.recording) rec(frames jsonb, sprite jsonb) ON true
  WHERE e.id = $1`;
export const StripRow = Strip.extend({ frames: Strip.shape.frames.nullable() });

/** How many follow-ups any place of edition $1 has had, by wording: of all, or of wording or wordings $2. */
export const countedRounds = (reach: Reach) =>
  keepIfOne(
    reach,
    `SELECT q.wording_id AS "wordingId", max(g.round) AS rounds FROM prompts q JOIN generations g ON g.wording_id = q.wording_id
  WHERE q.edition_id = $1 AND g.superseded_at IS NULL AND ${isOf(reach, 2)} GROUP BY 1`,
  );
export const RoundCountRow = z.object({ wordingId: z.uuid(), rounds: z.int() });
export type RoundCountRow = z.infer<typeof RoundCountRow>;

/**
 * The first shots of every take, or of those up to $2, counted by prompt, by version and by how far they have come: of all wordings, or of wording or wordings $3.
 */
export const countedCells = (versions: Versions, reach: Reach) =>
  keepIfOne(
    reach,
    `SELECT "wordingId", "promptId", "versionId", state, outcome, verdict, "hasEntry", "hasPage", "renderState", "hasError", "isHelped", count(*)::int AS cells,
    max(take) AS takes, sum(cost) AS "costUsd", count(cost)::int AS costed,
    coalesce(sum(tokens), 0) AS tokens, count(tokens)::int AS tokened,
    coalesce(sum(tokens) FILTER (WHERE "totalMs" > 0), 0) AS "timedTokens",
    coalesce(sum("totalMs") FILTER (WHERE tokens IS NOT NULL AND "totalMs" > 0), 0) AS "timedMs",
    coalesce(array_agg("totalMs") FILTER (WHERE "totalMs" IS NOT NULL), '{}') AS "totalsMs"
  FROM (${selectCells(FACTS, versions, {
    where: `g.round = 0 AND g.take <= coalesce($2::int, g.take) AND ${isOf(reach, 3)}`,
  })}) f GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11`,
  );

export const RoundRow = z.object({
  ...standing,
  ...{
    wordingId: z.uuid(),
    promptId: z.uuid(),
    versionId: z.uuid(),
    take: z.int(),
    mends: z.int(),
    corrections: z.int(),
  },
  isHelped: z.boolean(),
});
export type RoundRow = z.infer<typeof RoundRow>;
/** Every round of every place of edition $1, of all versions: of all wordings, or of wording or wordings $2. */
export const allRounds = (reach: Reach) =>
  selectCells(
    `${STANDING}, g.wording_id AS "wordingId", q.id AS "promptId", g.version_id AS "versionId", g.take, g.mends, g.corrections, g.hand_help IS NOT NULL AS "isHelped"`,
    "all",
    { where: isOf(reach, 2), of: "g.wording_id, g.version_id, g.take, g.round" },
  );

/** Versions with an answer to a wording of edition $1 that are no entrant's present one. */
export const FORMER_VERSIONS = keepPlan(`
  SELECT v.id, v.number, v.entrant_id AS "entrantId",
    (SELECT min(o.created_at) FROM entrant_versions o WHERE o.entrant_id = v.entrant_id AND o.number > v.number) AS until
  FROM entrant_versions v JOIN entrants n ON n.id = v.entrant_id
  WHERE v.id <> n.version_id AND EXISTS (SELECT FROM generations g JOIN prompts q ON q.wording_id = g.wording_id
    WHERE g.version_id = v.id AND q.edition_id = $1 AND g.state = 'answered' AND g.superseded_at IS NULL)
  ORDER BY v.entrant_id, v.number`);
export const FormerRow = z.object({ id: z.uuid(), number: z.int(), entrantId: z.uuid(), until: isoDateOrNull });
export type FormerRow = z.infer<typeof FormerRow>;

/** How many takes of each cell a plan would not send again. */
export const GRID = `
  SELECT q.id AS "promptId", g.entrant_id AS "entrantId", count(*)::int AS there
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entrants n ON n.version_id = g.version_id
  WHERE q.edition_id = $1 AND g.turn = 1 AND g.round = 0 AND g.superseded_at IS NULL AND NOT (g.state = ANY($2::text[])) GROUP BY 1, 2`;

export const GridRow = z.object({ promptId: z.uuid(), entrantId: z.uuid(), there: z.int() });
