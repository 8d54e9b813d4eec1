import { type BallotFilter, BallotLine } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

export const BallotRow = z.object({
  ...BallotLine.shape,
  castAt: isoDate,
  /** The exact instant and the id: where the next older ones begin. */
  place: z.string(),
});
export type BallotRow = z.infer<typeof BallotRow>;

const INSTANT = (column: string) => `to_char(${column} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"')`;
const SELECT = `
  SELECT b.id, b.cast_at AS "castAt", ${INSTANT("b.cast_at")} || '_' || b.id AS place, o.ordinal, v.id AS "voterId", v.name AS "voterName",
    p.title AS "panelTitle", v.sample, q.content->>'title' AS "promptTitle", o.left_entry_id AS "leftEntryId",
    o.right_entry_id AS "rightEntryId", vl.entrant_id AS "leftEntrantId", vr.entrant_id AS "rightEntrantId", b.lean,
    b.left_works AS "leftWorks", b.right_works AS "rightWorks", b.reasons, b.note, b.dwell_ms AS "dwellMs",
    o.is_automatic AS "isAutomatic", o.is_repeat AS "isRepeat", o.contest, o.left_form AS "leftForm", o.right_form AS "rightForm", o.reason AS "askedBecause", b.seen_with AS "seenWith",
    CASE WHEN b.voided_at IS NOT NULL THEN json_build_object('at', ${INSTANT("b.voided_at")}, 'by', b.voided_by, 'why', b.void_reason) END AS voided
  FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id JOIN panels p ON p.id = v.panel_id
    JOIN prompts q ON q.id = o.prompt_id JOIN entrant_versions vl ON vl.id = o.left_version_id JOIN entrant_versions vr ON vr.id = o.right_version_id`;

const isPresent = (version: string) => `EXISTS (SELECT FROM entrants n WHERE n.version_id = ${version})`;
const FILTERS: Record<BallotFilter, string> = {
  all: "true",
  // As standings count that have nothing chosen; of an older version $3, those on any.
  "that count": `o.contest = coalesce($8, 'entrants') AND b.voided_at IS NULL AND v.left_out_at IS NULL AND (($3::uuid IS NOT NULL AND NOT ${isPresent("$3")})
      OR (${isPresent("o.left_version_id")} AND ${isPresent("o.right_version_id")}))`,
  "with a note": "b.note <> ''",
  voided: "b.voided_at IS NOT NULL",
  "set aside": "b.voided_by IN ('redo', 'mismatch')",
};

/**
 * Ballots on the wordings of edition $1; where they are given, of voter $2, of version $3, of it against version $4, on the wording of prompt $5, and
 * of panel $6; with $7 those alone whose ids are among these; with $8 of one contest.
 */
const where = (only: BallotFilter) => `
  WHERE EXISTS (SELECT FROM prompts w WHERE w.wording_id = o.wording_id AND w.edition_id = $1 AND ($5::uuid IS NULL OR w.id = $5))
    AND ($2::uuid IS NULL OR v.id = $2) AND ($3::uuid IS NULL OR $3 IN (o.left_version_id, o.right_version_id))
    AND ($4::uuid IS NULL OR ($4 IN (o.left_version_id, o.right_version_id) AND $4 IS DISTINCT FROM $3::uuid))
    AND ($6::uuid IS NULL OR v.panel_id = $6) AND ($7::uuid[] IS NULL OR b.id = ANY($7)) AND ($8::text IS NULL OR o.contest = $8) AND ${FILTERS[only]}`;

export const countBallots = (only: BallotFilter) => `
  SELECT count(*)::int AS n FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id ${where(only)}`;

/** First which ones, then what is told of them: PostgreSQL plans two short joins in about ten milliseconds, and took fifty for the long one. */
export const listBallots = (only: BallotFilter) => `
  WITH chosen AS MATERIALIZED (
    SELECT b.id FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    ${where(only)} AND ($9::timestamptz IS NULL OR (b.cast_at, b.id) < ($9::timestamptz, $10::uuid))
    ORDER BY b.cast_at DESC, b.id DESC LIMIT $11)
  ${SELECT} WHERE b.id IN (SELECT id FROM chosen) ORDER BY b.cast_at DESC, b.id DESC`;

export const FoundRow = BallotRow.extend({ editionId: z.uuid(), panelId: z.uuid() });

export const FIND_BALLOT = `
  SELECT s.*, p.edition_id AS "editionId", p.id AS "panelId" FROM (${SELECT} WHERE b.id = $1) s
  JOIN voters v ON v.id = s."voterId" JOIN panels p ON p.id = v.panel_id`;
