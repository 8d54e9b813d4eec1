import { GenerationState, Redo } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate, isoDateOrNull } from "../db/row.js";

export const TargetRow = z.object({
  id: z.uuid(),
  state: GenerationState,
  title: z.string(),
  entrant: z.string(),
  take: z.int(),
});

/**
 * The generations that hold in edition $1 for prompt $2, entrant $3 and take $4 (null is any) as entrants are set up now: whole takes of which
 * something was answered or failed, or with $5 those that another model answered.
 */
export const TARGETS = `
  WITH found AS (
    SELECT g.*, q.content->>'title' AS title, n.name AS entrant
    FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entrants n ON n.version_id = g.version_id
    WHERE q.edition_id = $1 AND ($2::uuid IS NULL OR q.id = $2) AND ($3::uuid IS NULL OR n.id = $3) AND ($4::int IS NULL OR g.take = $4)
      AND g.superseded_at IS NULL)
  SELECT f.id, f.state, f.title, f.entrant, f.take FROM found f JOIN generations g ON g.id = f.id
  WHERE EXISTS (SELECT FROM found o WHERE o.wording_id = f.wording_id AND o.version_id = f.version_id AND o.take = f.take
    AND CASE WHEN $5 THEN o.is_mismatch AND o.mismatch_accepted_at IS NULL ELSE o.state NOT IN ('cancelled', 'held') END)
  ORDER BY f.title, f.entrant, f.take, f.turn, f.round FOR UPDATE OF g`;

export const RedoRow = z.object({ ...Redo.shape, createdAt: isoDate, undoneAt: isoDateOrNull });

export const SELECT_REDOS = `
  SELECT d.id, d.edition_id AS "editionId", d.reason, d.created_at AS "createdAt", d.undone_at AS "undoneAt",
    (SELECT r.id FROM runs r WHERE r.redo_id = d.id) AS "runId",
    (SELECT count(DISTINCT (g.wording_id, g.version_id, g.take))::int FROM generations g
     WHERE g.superseded_by = d.id AND g.redo_id IS DISTINCT FROM d.id) AS superseded,
    (SELECT count(*)::int FROM ballots b JOIN bouts o ON o.id = b.bout_id
     WHERE b.voided_by = 'redo' AND (o.left_entry_id IN (SELECT e.id FROM entries e JOIN generations g ON g.id = e.generation_id WHERE g.superseded_by = d.id)
       OR o.right_entry_id IN (SELECT e.id FROM entries e JOIN generations g ON g.id = e.generation_id WHERE g.superseded_by = d.id))) AS ballots
  FROM redos d`;

/** Whether, in a place that redo $1 set aside, something else holds now than what it asked for. */
export const OVERTAKEN = `
  SELECT count(*)::int AS n FROM generations o JOIN generations h ON h.wording_id = o.wording_id AND h.version_id = o.version_id AND h.take = o.take
    AND h.turn = o.turn AND h.round = o.round
  WHERE o.superseded_by = $1 AND h.superseded_at IS NULL AND h.redo_id IS DISTINCT FROM $1`;
