import {
  ArtifactFacts,
  ArtifactKind,
  EntryFile,
  Failure,
  FollowUp,
  GenerationState,
  PromptDefinition,
  Timings,
  TraceStep,
  Usage,
  Verdict,
  Wording,
} from "@tourney/core/contract";
import * as z from "zod";
import { isoDateOrNull } from "../db/row.js";

/** A stored prompt, with the digest of its recipe. What was frozen is not checked again. */
const StoredPrompt = z.object(PromptDefinition.shape);

/** The prompt that generation `g` is shown with: that of edition $2 where it has the wording, or else of the newest edition that has it. */
const SHOWN_PROMPT = `JOIN LATERAL (SELECT p.* FROM prompts p JOIN editions d ON d.id = p.edition_id WHERE p.wording_id = g.wording_id
  ORDER BY p.edition_id IS NOT DISTINCT FROM $2::uuid DESC, d.number DESC LIMIT 1) q ON true`;

export const AnswerRow = z.object({
  id: z.uuid(),
  answer: z.string(),
  /** The parts of an answer that was continued; null when it came in one. */
  parts: z.array(z.string()).nullable(),
  finishReason: z.string().nullable(),
  wording: Wording,
  prompt: StoredPrompt,
  recipeDigest: z.string(),
  /** Of the prompt in its edition, from 0. */
  position: z.int(),
  take: z.int(),
  round: z.int(),
});
export type AnswerRow = z.infer<typeof AnswerRow>;

/** The answer of generation $1; the recipe that its page is recorded by is that of its run's edition, $2 when null. */
export const SELECT_ANSWER = `
  SELECT g.id, g.answer, g.finish_reason AS "finishReason", w.content AS wording, q.content AS prompt, q.recipe_digest AS "recipeDigest",
    q.position, g.take, g.round,
    (SELECT CASE WHEN count(*) > 1 THEN array_agg(a.text ORDER BY a.number) END FROM attempts a
     WHERE a.generation_id = g.id AND a.outcome = 'answered'
       AND a.number >= coalesce((SELECT max(b.number) FROM attempts b WHERE b.generation_id = g.id AND b.purpose = 'again'), 0)) AS parts
  FROM generations g JOIN wordings w ON w.id = g.wording_id ${SHOWN_PROMPT} WHERE g.id = $1 AND g.state = 'answered'`;

export const WITHOUT_ENTRY =
  "AND NOT EXISTS (SELECT FROM entries e WHERE e.generation_id = g.id AND e.edited_from IS NULL)";

/** Answers without an entry: those of run $1 that had ended as a failure, or with null all that have not. */
export const TAKE_UP_ANSWERS = `
  WITH taken_up AS (UPDATE generations g SET outcome = CASE WHEN g.outcome = 'untaken' THEN 'answered' ELSE g.outcome END
    WHERE g.state = 'answered' AND NOT EXISTS (SELECT FROM entries e WHERE e.generation_id = g.id)
      AND CASE WHEN $1::uuid IS NULL THEN g.outcome IS DISTINCT FROM 'untaken' ELSE g.run_id = $1 AND g.outcome = 'untaken' END
    RETURNING g.id)
  SELECT graphile_worker.add_job('extract', json_build_object('generationId', id), job_key := 'extract:' || id) FROM taken_up`;

export const EntryRow = z.object({
  id: z.uuid(),
  verdict: Verdict,
  kind: ArtifactKind,
  entryPath: z.string().nullable(),
  files: z.array(EntryFile),
  trace: z.array(TraceStep),
  facts: ArtifactFacts,
  editedFrom: z.uuid().nullable(),
  leftOut: z.string().nullable(),
  diff: z.string().nullable(),
  take: z.int(),
  turn: z.int(),
  round: z.int(),
  mends: z.int(),
  corrections: z.int(),
  editionId: z.uuid(),
  promptId: z.uuid(),
  prompt: StoredPrompt,
  recipeDigest: z.string(),
  wordingId: z.uuid(),
  versionId: z.uuid(),
  version: z.object({ id: z.uuid(), number: z.int(), isPresent: z.boolean(), model: z.string() }),
  entrantId: z.uuid(),
  entrantKey: z.string(),
  entrantName: z.string(),
  maker: z.string(),
  glyph: z.int(),
  sample: z.boolean(),
  generationId: z.uuid(),
  supersededAt: isoDateOrNull,
  supersededBy: z.uuid().nullable(),
  supersededWhy: z.string().nullable(),
  holdsId: z.uuid().nullable(),
  redone: z.object({ redoId: z.uuid(), why: z.string(), undone: z.boolean() }).nullable(),
  isMismatch: z.boolean(),
  mismatchAccepted: z.boolean(),
  handHelp: z.string().nullable(),
  offTask: z.string().nullable(),
  state: GenerationState,
  byHand: z.boolean(),
  answer: z.string(),
  reasoning: z.string().nullable(),
  finishReason: z.string().nullable(),
  requestedModel: z.string(),
  reportedModel: z.string().nullable(),
  request: z.unknown(),
  usage: Usage.nullable(),
  timings: Timings.nullable(),
  costUsd: z.number().nullable(),
  attempts: z.int(),
  failures: z.array(Failure),
  answeredAt: isoDateOrNull,
});
export type EntryRow = z.infer<typeof EntryRow>;

/** Entry $1 with everything around it, shown with the prompt of edition $2 or the newest. */
export const SELECT_ENTRY = `
  SELECT e.id, e.verdict, e.kind, e.entry_path AS "entryPath", e.files, e.trace, e.facts, e.edited_from AS "editedFrom",
    (SELECT x.why FROM booth_exclusions x WHERE x.entry_id = e.id) AS "leftOut", e.diff, g.take, g.turn, g.round, g.mends, g.corrections,
    q.edition_id AS "editionId", q.id AS "promptId", q.content AS prompt, q.recipe_digest AS "recipeDigest", g.wording_id AS "wordingId",
    g.version_id AS "versionId",
    json_build_object('id', v.id, 'number', v.number, 'isPresent', n.version_id = v.id, 'model', v.model) AS version,
    n.id AS "entrantId", n.key AS "entrantKey", n.name AS "entrantName", n.maker, n.glyph, n.sample, g.id AS "generationId",
    g.superseded_at AS "supersededAt", g.superseded_by AS "supersededBy",
    (SELECT d.reason FROM redos d WHERE d.id = g.superseded_by) AS "supersededWhy",
    (SELECT o.id FROM generations h JOIN entries o ON o.generation_id = h.id AND o.edited_from IS NULL
     WHERE g.superseded_at IS NOT NULL AND h.superseded_at IS NULL AND h.wording_id = g.wording_id AND h.version_id = g.version_id
       AND h.take = g.take ORDER BY h.round = g.round DESC, h.turn DESC LIMIT 1) AS "holdsId",
    (SELECT json_build_object('redoId', d.id, 'why', d.reason, 'undone', d.undone_at IS NOT NULL) FROM redos d WHERE d.id = g.redo_id) AS redone,
    g.is_mismatch AS "isMismatch", g.mismatch_accepted_at IS NOT NULL AS "mismatchAccepted", g.hand_help AS "handHelp", g.off_task AS "offTask",
    g.state, g.by_hand AS "byHand", g.answer, left(g.reasoning, 200000) AS reasoning, g.finish_reason AS "finishReason", g.requested_model AS "requestedModel",
    g.reported_model AS "reportedModel", g.request, g.usage, g.timings, g.cost_usd AS "costUsd", g.attempts, g.failures,
    g.answered_at AS "answeredAt"
  FROM entries e JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.id = g.entrant_id
    JOIN entrant_versions v ON v.id = g.version_id ${SHOWN_PROMPT} WHERE e.id = $1`;

export const RoundRow = z.object({
  entryId: z.uuid().nullable(),
  turn: z.int(),
  round: z.int(),
  mends: z.int(),
  corrections: z.int(),
  handMended: z.boolean(),
  followUp: FollowUp.nullable(),
  state: GenerationState,
  errors: z.int(),
});

/**
 * Everything made for wording $1, version $2 and take $3 that stands or was set aside together ($4, the redo): turns, rounds, and what was
 * mended by hand.
 */
export const ROUNDS = `
  SELECT e.id AS "entryId", g.turn, g.round, g.mends, g.corrections, e.edited_from IS NOT NULL AS "handMended", g.follow_up AS "followUp", g.state,
    (SELECT count(*)::int FROM jsonb_array_elements((SELECT faults FROM renders v WHERE v.entry_id = e.id AND v.state = 'recorded'
      ORDER BY v.number DESC LIMIT 1)) f WHERE f->>'severity' = 'error') AS errors
  FROM generations g LEFT JOIN entries e ON e.generation_id = g.id
  WHERE g.wording_id = $1 AND g.version_id = $2 AND g.take = $3 AND g.superseded_by IS NOT DISTINCT FROM $4
  ORDER BY g.turn, g.round, e.created_at`;

export const CellRow = z.object({
  wordingId: z.uuid().nullable(),
  turns: z.int().nullable(),
  entrantId: z.uuid().nullable(),
  versionId: z.uuid().nullable(),
  model: z.string().nullable(),
  generationId: z.uuid().nullable(),
  state: GenerationState.nullable(),
  answer: z.string().nullable(),
  entryId: z.uuid().nullable(),
});

export type CellRow = z.infer<typeof CellRow>;

/** What an answer by hand is for (edition $1, prompt key $2, entrant key $3, take $4, turn $5), and what stands in its place. */
export const SELECT_CELL = `
  SELECT q.wording_id AS "wordingId", 1 + jsonb_array_length(coalesce(q.content->'turns', '[]')) AS turns, n.id AS "entrantId",
    n.version_id AS "versionId", n.model, g.id AS "generationId", g.state, g.answer, e.id AS "entryId"
  FROM (SELECT 1) one LEFT JOIN prompts q ON q.edition_id = $1 AND q.key = $2 LEFT JOIN entrants n ON n.key = $3
    LEFT JOIN generations g ON g.wording_id = q.wording_id AND g.version_id = n.version_id AND g.take = $4 AND g.turn = $5 AND g.round = 0
      AND g.superseded_at IS NULL
    LEFT JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL`;

/** Puts the names seen on the screen ($2) in the place of those seen in an earlier recording, in the entry of render $1. */
export const REPLACE_SHOWN_LEAKS = `
  UPDATE entries e SET facts = jsonb_set(e.facts, '{leaks}', coalesce((SELECT jsonb_agg(l)
    FROM jsonb_array_elements(e.facts->'leaks') l WHERE l->>'where' <> 'screen'), '[]') || $2::jsonb)
  FROM renders r WHERE r.id = $1 AND e.id = r.entry_id`;

export const MendableRow = z.object({ generationId: z.uuid(), mendTemplate: z.string(), findings: z.unknown() });

/**
 * The newest answered round of each take of edition $1, prompt $2, entrant $3, entry $4 (null is any) and take $5, where the last turn has
 * been answered over an endpoint and recorded. $6 is the template of suites that name none.
 */
export const MENDABLE = `
  SELECT DISTINCT ON (g.wording_id, g.version_id, g.take) g.id AS "generationId", coalesce(d.content->>'mendTemplate', $6) AS "mendTemplate",
    v.recording->'findings' AS findings
  FROM editions d JOIN prompts q ON q.edition_id = d.id JOIN generations g ON g.wording_id = q.wording_id
    JOIN entrants n ON n.version_id = g.version_id JOIN endpoints p ON p.id = n.endpoint_id
    JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
    JOIN LATERAL (SELECT recording FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded' ORDER BY r.number DESC LIMIT 1) v ON true
  WHERE d.id = $1 AND ($2::uuid IS NULL OR q.id = $2) AND ($3::uuid IS NULL OR n.id = $3) AND g.take = $5
    AND ($4::uuid IS NULL OR (g.wording_id, g.version_id) = (SELECT o.wording_id, o.version_id FROM entries x JOIN generations o ON o.id = x.generation_id WHERE x.id = $4))
    AND g.superseded_at IS NULL AND g.state = 'answered' AND p.protocol <> 'by-hand' AND n.retired_at IS NULL
    AND g.turn = 1 + jsonb_array_length(coalesce(q.content->'turns', '[]'))
  ORDER BY g.wording_id, g.version_id, g.take, g.round DESC`;

export const RecordedRow = z.object({
  generationId: z.uuid(),
  mends: z.int(),
  options: z.unknown(),
  mendTemplate: z.string(),
});

/** The generation behind render $1 of what a model made in a run, with the run's options and the suite's template ($2 where it has none). */
export const RECORDED = `
  SELECT g.id AS "generationId", g.mends, coalesce(r.options->'options', '{}') AS options, coalesce(d.content->>'mendTemplate', $2) AS "mendTemplate"
  FROM renders v JOIN entries e ON e.id = v.entry_id JOIN generations g ON g.id = e.generation_id JOIN runs r ON r.id = g.run_id
    JOIN prompts q ON q.wording_id = g.wording_id AND q.edition_id = r.edition_id JOIN editions d ON d.id = q.edition_id
  WHERE v.id = $1 AND e.edited_from IS NULL AND NOT g.by_hand AND r.cancelled_at IS NULL AND g.superseded_at IS NULL
    AND g.turn = 1 + jsonb_array_length(coalesce(q.content->'turns', '[]'))`;

/** The newest answered round of every entrant that can be asked again, for prompt $1 and take $2; of entrants $3 where given. */
export const NEWEST_ROUNDS = `
  SELECT DISTINCT ON (g.entrant_id) g.id
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entrants n ON n.version_id = g.version_id
    JOIN endpoints p ON p.id = n.endpoint_id
  WHERE q.id = $1 AND g.take = $2 AND g.state = 'answered' AND g.superseded_at IS NULL AND p.protocol <> 'by-hand' AND n.retired_at IS NULL
    AND ($3::uuid[] IS NULL OR n.id = ANY($3::uuid[]))
  ORDER BY g.entrant_id, g.turn DESC, g.round DESC`;

/** Ballots on the entries of generations $1 that count. */
export const VOID_BALLOTS = `
  UPDATE ballots b SET voided_at = now(), void_reason = $2, voided_by = $3
  FROM bouts o WHERE o.id = b.bout_id AND b.voided_at IS NULL AND (
    o.left_entry_id IN (SELECT id FROM entries WHERE generation_id = ANY($1::uuid[]))
    OR o.right_entry_id IN (SELECT id FROM entries WHERE generation_id = ANY($1::uuid[])))`;

/** Lets ballots on the entries of generations $1 that were voided by $2 count again, unless their other entry keeps them from it. */
export const RESTORE_BALLOTS = `
  UPDATE ballots b SET voided_at = NULL, void_reason = NULL, voided_by = NULL
  FROM bouts o JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
    JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
  WHERE o.id = b.bout_id AND b.voided_by = $2 AND (gl.id = ANY($1::uuid[]) OR gr.id = ANY($1::uuid[]))
    AND gl.superseded_at IS NULL AND gr.superseded_at IS NULL
    AND (NOT gl.is_mismatch OR gl.mismatch_accepted_at IS NOT NULL) AND (NOT gr.is_mismatch OR gr.mismatch_accepted_at IS NOT NULL)`;

export const StoredFilesRow = z.object({ entryPath: z.string().nullable(), files: z.array(EntryFile) });
export type StoredFiles = z.infer<typeof StoredFilesRow>;
