import { type Contest, PromptDefinition } from "@tourney/core/contract";
import { AS_IT_STANDS } from "@tourney/core/pairing";
import * as z from "zod";
import { OPEN_FOR, sideOf } from "./turn.js";

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
  wordingId: z.uuid(),
  promptId: z.uuid(),
  versionId: z.uuid(),
  form: z.string(),
  origin: z.string().nullable(),
  likeness: z.string().nullable(),
  losesUnseen: z.boolean(),
  /** What its page asks a machine for, in words. */
  needs: z.array(z.string()),
});
export const OpenBoutRow = z.object({ leftCompetitorId: z.string(), rightCompetitorId: z.string() });
export const BoutCountRow = z.object({ promptId: z.uuid(), bytes: z.instanceof(Buffer) });
/** Bytes of one count: where both sides stand in the list that was given, two each, and how often, four. */
export const COUNT_BYTES = 8;

export const BallotRow = z.object({
  lean: z.int(),
  leftWorks: z.boolean(),
  rightWorks: z.boolean(),
  reasons: z.array(z.string()),
  note: z.string(),
});
export type BallotRow = z.infer<typeof BallotRow>;

/**
 * Bouts that a voter has answered, whether or not their ballots still count; without those that the voter took back. Each ballot is looked up by its bout (OFFSET 0):
 * taking the voter for one with many, the planner would read all ballots of everybody.
 */
const DONE = `(SELECT count(*)::int FROM bouts o CROSS JOIN LATERAL
    (SELECT FROM ballots b WHERE b.bout_id = o.id AND b.voided_by IS DISTINCT FROM 'voter' OFFSET 0) b
  WHERE o.voter_id = v.id AND NOT o.is_automatic)`;

export const VOTER = `
  SELECT v.id, v.panel_id AS "panelId", p.quota, ${DONE} AS done, v.revoked_at IS NOT NULL AS revoked
  FROM voters v JOIN panels p ON p.id = v.panel_id WHERE v.panel_id = $1 AND v.token_hash = $2`;

/** The conditions on entries that a contest puts into bouts, in terms of generation `g` on prompt `q` of panel `p`. */
interface ContestEntries {
  /** The prompt that the voter reads, and which form of it the entry is. */
  forms?: string;
  isShown: string;
  /** What both entries of a bout must have come from. */
  origin?: string;
  /** Which of the generations of a place stands for it where none has a page; null where such a place is left out. */
  isUndelivered: string | null;
}

const ITSELF = "(SELECT q.id AS prompt_id, '' AS form)";
const OF_TAKE = "'take ' || g.take";
const IS_LAST_TURN = "g.turn = 1 + jsonb_array_length(coalesce(q.content->'turns', '[]'))";
/** That no later generation of the same take holds, of those that a condition on it names. */
const isNone = (later: string) => `NOT EXISTS (SELECT FROM generations l
  WHERE l.wording_id = g.wording_id AND l.version_id = g.version_id AND l.take = g.take AND l.superseded_at IS NULL AND ${later})`;
const FIRST_SHOT = {
  isShown: `g.round = 0 AND ${IS_LAST_TURN}`,
  isUndelivered: `g.round = 0 AND ${isNone("l.round = 0 AND l.turn > g.turn AND l.state <> 'cancelled'")}`,
};
/** The last page that mends alone led to, after so many as the panel says. */
const IS_LAST_MEND = `g.corrections = 0 AND g.mends <= p.step AND ${isNone("l.corrections = 0 AND l.mends <= p.step AND l.mends > g.mends AND l.state = 'answered'")}`;

const ENTRIES_OF: Record<Contest, ContestEntries> = {
  entrants: FIRST_SHOT,
  hints: {
    ...FIRST_SHOT,
    forms: `(SELECT b.id AS prompt_id, 'variant ' || q.key AS form FROM prompts b WHERE b.edition_id = q.edition_id AND b.key = q.content->'variantOf'->>'prompt'
      UNION ALL SELECT q.id, '${AS_IT_STANDS}' WHERE EXISTS (SELECT FROM prompts h WHERE h.edition_id = q.edition_id AND h.content->'variantOf'->>'prompt' = q.key))`,
  },
  takes: { ...FIRST_SHOT, forms: "(SELECT q.id AS prompt_id, 'take ' || g.take AS form)", isUndelivered: null },
  rounds: {
    origin: OF_TAKE,
    forms: "(SELECT q.id AS prompt_id, CASE WHEN g.mends = 0 THEN 'first shot' ELSE 'mended' END AS form)",
    isShown: `${IS_LAST_TURN} AND (g.round = 0 OR (g.mends > 0 AND ${IS_LAST_MEND}))`,
    isUndelivered: null,
  },
  turns: {
    origin: OF_TAKE,
    forms: "(SELECT q.id AS prompt_id, 'turn ' || g.turn AS form)",
    isShown: "g.round = 0",
    isUndelivered: null,
  },
  mended: {
    isShown: `${IS_LAST_TURN} AND ${IS_LAST_MEND}`,
    isUndelivered: `${IS_LAST_MEND} AND ${isNone("l.round = 0 AND l.turn > g.turn AND l.state <> 'cancelled'")}`,
  },
  turn_pages: {
    isShown: "g.round = 0 AND g.turn = p.step",
    isUndelivered: `g.round = 0 AND g.turn <= p.step AND ${isNone("l.round = 0 AND l.turn > g.turn AND l.turn <= p.step AND l.state <> 'cancelled'")}`,
  },
};

/**
 * Entries that panel $1 may put into bouts of a contest: of each take that holds, as entrants are set up now, the pages that the contest is about, if they
 * were recorded and neither the lead nor a mismatch keeps them from voters; and, where the panel lets those lose, what was answered without a page.
 * Two whose frames are the same to the pixel have the same likeness, and so have all that lose without being shown. With $2 only those of some wordings.
 */
export const candidatesOf = (contest: Contest): string => {
  const { forms = ITSELF, origin = "NULL", isShown, isUndelivered } = ENTRIES_OF[contest];
  return `
  SELECT "entryId", "wordingId", "promptId", "versionId", form, CASE WHEN "losesUnseen" THEN 'loses unseen' ELSE likeness END AS likeness, origin, "losesUnseen",
    coalesce(needs, '[]') AS needs
  FROM (SELECT e.id AS "entryId", g.wording_id AS "wordingId", f.prompt_id AS "promptId", g.version_id AS "versionId", f.form, ${origin} AS origin, s.likeness, s.broken, s.needs, p.broken_rule, q.position, g.take,
      CASE WHEN e.entry_path IS NULL THEN true ELSE p.broken_rule = 'lose' AND s.broken END AS "losesUnseen"
    FROM panels p JOIN prompts q ON q.edition_id = p.edition_id JOIN generations g ON g.wording_id = q.wording_id
      JOIN entrants n ON n.version_id = g.version_id JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
      CROSS JOIN LATERAL ${forms} f
      LEFT JOIN LATERAL (SELECT r.likeness, r.shows_nothing AS broken, r.needs
        FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded'
        ORDER BY r.recipe_digest = q.recipe_digest DESC, r.number DESC LIMIT 1) s ON true
    WHERE p.id = $1 AND ($2::uuid[] IS NULL OR g.wording_id = ANY($2)) AND (p.prompt_ids IS NULL OR f.prompt_id = ANY(p.prompt_ids)) AND (p.entrant_ids IS NULL OR n.id = ANY(p.entrant_ids))
      AND g.superseded_at IS NULL AND (NOT g.is_mismatch OR g.mismatch_accepted_at IS NOT NULL)
      AND NOT EXISTS (SELECT FROM booth_exclusions x WHERE x.entry_id = e.id)
      AND CASE WHEN e.entry_path IS NULL THEN ${isUndelivered === null ? "false" : `p.undelivered_rule = 'lose' AND ${isUndelivered}`}
          ELSE s.broken IS NOT NULL AND ${isShown} END) c
  WHERE "losesUnseen" OR NOT (broken AND broken_rule = 'leave_out')
  ORDER BY position, "versionId", take, form`;
};

/** Bouts of panel $1 that were put before somebody lately and are not answered yet. */
export const OPEN_BOUTS = `
  SELECT ${sideOf("left")} AS "leftCompetitorId", ${sideOf("right")} AS "rightCompetitorId"
  FROM bouts o JOIN voters v ON v.id = o.voter_id AND v.panel_id = $1
  WHERE o.issued_at > now() - interval '${OPEN_FOR}' AND o.skipped_at IS NULL
    AND NOT EXISTS (SELECT FROM ballots b WHERE b.bout_id = o.id AND b.voided_at IS NULL)`;

/** How often what was put before anybody in panel $1, by prompt: of the sides $2, whose names are made of their version and form. */
export const BOUT_COUNTS = `
  SELECT "promptId", string_agg(int2send(l::int2) || int2send(r::int2) || int4send(n), '') AS bytes
  FROM (SELECT o.prompt_id AS "promptId", l.place - 1 AS l, r.place - 1 AS r, count(*)::int AS n
    FROM voters v JOIN bouts o ON o.voter_id = v.id LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
      JOIN unnest($2::uuid[], $3::text[]) WITH ORDINALITY l(version_id, form, place) ON l.version_id = o.left_version_id AND l.form = o.left_form
      JOIN unnest($2::uuid[], $3::text[]) WITH ORDINALITY r(version_id, form, place) ON r.version_id = o.right_version_id AND r.form = o.right_form
    WHERE v.panel_id = $1 AND (b.id IS NOT NULL OR (o.skipped_at IS NULL AND o.issued_at > now() - interval '${OPEN_FOR}'))
    GROUP BY 1, 2, 3) c GROUP BY 1`;

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
