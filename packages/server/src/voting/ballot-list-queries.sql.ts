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
/** As standings count that have nothing chosen; of an older version $3, those on any. */
const IS_COUNTED = `o.contest = coalesce($8, 'entrants') AND v.left_out_at IS NULL AND (($3::uuid IS NOT NULL AND NOT ${isPresent("$3")})
      OR (${isPresent("o.left_version_id")} AND ${isPresent("o.right_version_id")}))`;
const FILTERS: Record<BallotFilter, string> = {
  all: "true",
  "that count": `b.voided_at IS NULL AND ${IS_COUNTED}`,
  "with a note": "b.note <> ''",
  voided: "b.voided_at IS NOT NULL",
  "set aside": "b.voided_by IN ('redo', 'mismatch')",
};

/**
 * Ballots on the wordings of edition $1; where they are given, of voter $2, of version $3, of it against version $4, on the wording of prompt $5, and
 * of panel $6; with $8 of one contest.
 */
const WHERE = `
  WHERE EXISTS (SELECT FROM prompts w WHERE w.wording_id = o.wording_id AND w.edition_id = $1 AND ($5::uuid IS NULL OR w.id = $5))
    AND ($2::uuid IS NULL OR v.id = $2) AND ($3::uuid IS NULL OR $3 IN (o.left_version_id, o.right_version_id))
    AND ($4::uuid IS NULL OR ($4 IN (o.left_version_id, o.right_version_id) AND $4 IS DISTINCT FROM $3::uuid))
    AND ($6::uuid IS NULL OR v.panel_id = $6) AND ($8::text IS NULL OR o.contest = $8)`;
/** With $7 those alone whose ids are among these. */
const whereBallots = (only: BallotFilter) => `
  JOIN ballots b ON b.bout_id = o.id ${WHERE} AND ($7::uuid[] IS NULL OR b.id = ANY($7)) AND ${FILTERS[only]}`;
/** Bouts know how a ballot leans that is not voided, so that it need not be looked up. */
const NOT_VOIDED = `${WHERE} AND $7::uuid[] IS NULL AND o.cast_lean IS NOT NULL`;
/** Whose numbers add up to how many ballots a filter has. */
const PARTS: Record<BallotFilter, string[]> = {
  all: [NOT_VOIDED, whereBallots("voided")],
  "that count": [`${NOT_VOIDED} AND ${IS_COUNTED}`],
  "with a note": [whereBallots("with a note")],
  voided: [whereBallots("voided")],
  "set aside": [whereBallots("set aside")],
};

/** By voter how many they are, without $7: of voters $9, or of all. */
export const countByVoter = (only: BallotFilter) => `
  SELECT "voterId", sum(n)::int AS ballots FROM (${PARTS[only]
    .map(
      (part) => `SELECT v.id AS "voterId", count(*) AS n FROM bouts o JOIN voters v ON v.id = o.voter_id ${part}
        AND ($9::uuid[] IS NULL OR v.id = ANY($9)) GROUP BY 1`,
    )
    .join(" UNION ALL ")}) p GROUP BY 1`;
export const VoterTotal = z.object({ voterId: z.uuid(), ballots: z.int() });
export type VoterTotal = z.infer<typeof VoterTotal>;

/** How many of ballots $7 there are. */
export const countChosen = (only: BallotFilter) =>
  `SELECT count(*)::int AS n FROM bouts o JOIN voters v ON v.id = o.voter_id ${whereBallots(only)}`;

/** First which ones, then what is told of them: PostgreSQL plans two short joins in about ten milliseconds, and took fifty for the long one. */
export const listBallots = (only: BallotFilter) => `
  WITH chosen AS MATERIALIZED (
    SELECT b.id FROM bouts o JOIN voters v ON v.id = o.voter_id ${whereBallots(only)} AND ($9::timestamptz IS NULL OR (b.cast_at, b.id) < ($9::timestamptz, $10::uuid))
    ORDER BY b.cast_at DESC, b.id DESC LIMIT $11)
  ${SELECT} WHERE b.id IN (SELECT id FROM chosen) ORDER BY b.cast_at DESC, b.id DESC`;

export const FoundRow = BallotRow.extend({ editionId: z.uuid(), panelId: z.uuid() });

export const FIND_BALLOT = `
  SELECT s.*, p.edition_id AS "editionId", p.id AS "panelId" FROM (${SELECT} WHERE b.id = $1) s
  JOIN voters v ON v.id = s."voterId" JOIN panels p ON p.id = v.panel_id`;
