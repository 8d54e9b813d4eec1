import { PromptDefinition } from "@tourney/core/contract";
import * as z from "zod";
import { OPEN_FOR } from "./turn.js";

export const VoterRow = z.object({
  id: z.uuid(),
  panelId: z.uuid(),
  quota: z.int(),
  done: z.int(),
  revoked: z.boolean(),
});
export type VoterRow = z.infer<typeof VoterRow>;

export const CandidateRow = z.object({
  entryId: z.uuid(),
  promptId: z.uuid(),
  competitorId: z.uuid(),
  likeness: z.string().nullable(),
  losesUnseen: z.boolean(),
  /** What its page asks a machine for, in words. */
  needs: z.array(z.string()),
});
export const BoutCountRow = z.object({
  promptId: z.uuid(),
  leftCompetitorId: z.uuid(),
  rightCompetitorId: z.uuid(),
  n: z.int(),
  /** Of them, those that were put before somebody lately and are not answered yet. */
  open: z.int(),
});

export const BallotRow = z.object({
  lean: z.int(),
  leftWorks: z.boolean(),
  rightWorks: z.boolean(),
  reasons: z.array(z.string()),
  note: z.string(),
});
export type BallotRow = z.infer<typeof BallotRow>;

/** Bouts that a voter has answered, whether or not their ballots still count; without those that the voter took back. */
const DONE = `(SELECT count(*)::int FROM bouts o JOIN ballots b ON b.bout_id = o.id AND b.voided_by IS DISTINCT FROM 'voter'
  WHERE o.voter_id = v.id AND NOT o.is_automatic)`;

export const VOTER = `
  SELECT v.id, v.panel_id AS "panelId", p.quota, ${DONE} AS done, v.revoked_at IS NOT NULL AS revoked
  FROM voters v JOIN panels p ON p.id = v.panel_id WHERE v.panel_id = $1 AND v.token_hash = $2`;

/**
 * Entries that panel $1 may put into bouts: of each take that holds, as entrants are set up now, the first shot of the last turn, if it was
 * recorded and neither the lead nor a mismatch keeps it from voters; and, where the panel lets those lose, what was answered without a page.
 * Two whose frames are the same to the pixel have the same likeness, and so have all that lose without being shown.
 */
export const CANDIDATES = `
  SELECT "entryId", "promptId", "competitorId", CASE WHEN "losesUnseen" THEN 'loses unseen' ELSE likeness END AS likeness, "losesUnseen",
    coalesce(needs, '[]') AS needs
  FROM (SELECT e.id AS "entryId", q.id AS "promptId", g.version_id AS "competitorId", s.likeness, s.broken, s.needs, p.broken_rule, q.position, g.take,
      CASE WHEN e.entry_path IS NULL THEN true ELSE p.broken_rule = 'lose' AND s.broken END AS "losesUnseen"
    FROM panels p JOIN prompts q ON q.edition_id = p.edition_id JOIN generations g ON g.wording_id = q.wording_id
      JOIN entrants n ON n.version_id = g.version_id JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
      LEFT JOIN LATERAL (SELECT md5((SELECT string_agg(f->>'sha256', '' ORDER BY (f->>'atMs')::int)
          FROM jsonb_array_elements(r.recording->'frames') f)) AS likeness,
        r.shows_nothing AS broken,
        (SELECT jsonb_agg(f->>'message') FROM jsonb_array_elements(r.recording->'findings') f WHERE f->>'rule' = 'needs_device') AS needs
        FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded'
        ORDER BY r.recipe_digest = q.recipe_digest DESC, r.number DESC LIMIT 1) s ON true
    WHERE p.id = $1 AND (p.prompt_ids IS NULL OR q.id = ANY(p.prompt_ids)) AND (p.entrant_ids IS NULL OR n.id = ANY(p.entrant_ids))
      AND g.round = 0 AND g.superseded_at IS NULL AND (NOT g.is_mismatch OR g.mismatch_accepted_at IS NOT NULL)
      AND NOT EXISTS (SELECT FROM booth_exclusions x WHERE x.entry_id = e.id)
      AND CASE WHEN e.entry_path IS NULL THEN p.undelivered_rule = 'lose' AND NOT EXISTS (SELECT FROM generations l
            WHERE l.wording_id = g.wording_id AND l.version_id = g.version_id AND l.take = g.take AND l.turn > g.turn AND l.superseded_at IS NULL
              AND l.state <> 'cancelled')
          ELSE s.broken IS NOT NULL AND g.turn = 1 + jsonb_array_length(coalesce(q.content->'turns', '[]')) END) c
  WHERE "losesUnseen" OR NOT (broken AND broken_rule = 'leave_out')
  ORDER BY position, "competitorId", take`;

/** How often what was put before anybody in panel $1. */
export const BOUT_COUNTS = `
  SELECT o.prompt_id AS "promptId", o.left_version_id AS "leftCompetitorId", o.right_version_id AS "rightCompetitorId", count(*)::int AS n,
    (count(*) FILTER (WHERE b.id IS NULL))::int AS open
  FROM voters v JOIN bouts o ON o.voter_id = v.id LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
  WHERE v.panel_id = $1 AND (b.id IS NOT NULL OR (o.skipped_at IS NULL AND o.issued_at > now() - interval '${OPEN_FOR}'))
  GROUP BY 1, 2, 3`;

export const PromptRow = z.object({ id: z.uuid(), content: z.object(PromptDefinition.shape) });

/** Voids the newest ballot of voter $1. */
export const VOID_LAST_BALLOT = `
  UPDATE ballots SET voided_at = now(), void_reason = 'taken back by the voter', voided_by = 'voter' WHERE id = (
    SELECT b.id FROM ballots b JOIN bouts o ON o.id = b.bout_id
    WHERE o.voter_id = $1 AND b.voided_at IS NULL AND NOT o.is_automatic
    ORDER BY b.cast_at DESC, o.ordinal DESC LIMIT 1) RETURNING bout_id AS "boutId"`;

export const AnswerCountRow = z.object({ answered: z.int(), passedOver: z.int() });

export const ANSWER_COUNT = `
  SELECT count(b.id)::int AS answered, count(*) FILTER (WHERE o.skipped_at IS NOT NULL)::int AS "passedOver"
  FROM bouts o LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL WHERE o.voter_id = $1 AND NOT o.is_automatic`;
