import { Kind, SeenWith } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

export const ExportRow = z.object({
  id: z.uuid(),
  /** The exact instant and the id: where the next ones begin. */
  place: z.string(),
  castAt: isoDate,
  voterId: z.uuid(),
  voterName: z.string(),
  panelTitle: z.string(),
  promptKey: z.string(),
  kind: Kind,
  leftKey: z.string(),
  leftName: z.string(),
  leftNumber: z.int(),
  leftIsPresent: z.boolean(),
  rightKey: z.string(),
  rightName: z.string(),
  rightNumber: z.int(),
  rightIsPresent: z.boolean(),
  leftEntryId: z.uuid(),
  rightEntryId: z.uuid(),
  ordinal: z.int(),
  askedBecause: z.string(),
  lean: z.int(),
  leftWorks: z.boolean(),
  rightWorks: z.boolean(),
  reasons: z.array(z.string()),
  note: z.string(),
  dwellMs: z.number(),
  isAutomatic: z.boolean(),
  isRepeat: z.boolean(),
  sample: z.boolean(),
  seenWith: SeenWith.nullable(),
  voidedBy: z.string().nullable(),
  voidReason: z.string().nullable(),
  leftOutWhy: z.string().nullable(),
});
export type ExportRow = z.infer<typeof ExportRow>;

const SELECT = `
  SELECT b.id, to_char(b.cast_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') || '_' || b.id AS place, b.cast_at AS "castAt", v.id AS "voterId",
    v.name AS "voterName", p.title AS "panelTitle", q.key AS "promptKey", q.kind, nl.key AS "leftKey", nl.name AS "leftName", vl.number AS "leftNumber",
    nl.version_id = vl.id AS "leftIsPresent", nr.key AS "rightKey", nr.name AS "rightName", vr.number AS "rightNumber",
    nr.version_id = vr.id AS "rightIsPresent", o.left_entry_id AS "leftEntryId", o.right_entry_id AS "rightEntryId", o.ordinal, o.reason AS "askedBecause",
    b.lean, b.left_works AS "leftWorks", b.right_works AS "rightWorks", b.reasons, b.note, b.dwell_ms AS "dwellMs", o.is_automatic AS "isAutomatic",
    o.is_repeat AS "isRepeat", v.sample, b.seen_with AS "seenWith", CASE WHEN b.voided_at IS NOT NULL THEN coalesce(b.voided_by, 'voter') END AS "voidedBy",
    b.void_reason AS "voidReason", CASE WHEN v.left_out_at IS NOT NULL THEN coalesce(v.left_out_why, '') END AS "leftOutWhy"
  FROM prompts q JOIN bouts o ON o.wording_id = q.wording_id JOIN ballots b ON b.bout_id = o.id JOIN voters v ON v.id = o.voter_id
    JOIN panels p ON p.id = v.panel_id JOIN entrant_versions vl ON vl.id = o.left_version_id JOIN entrants nl ON nl.id = vl.entrant_id
    JOIN entrant_versions vr ON vr.id = o.right_version_id JOIN entrants nr ON nr.id = vr.entrant_id`;

/**
 * Ballots on the wordings of edition $1, the oldest first, from behind a place ($2, $3) on, $4 of them; of entrants as they are set up now and counted ones
 * alone, unless $5 asks for all. They are of contest $6.
 */
export const EXPORT_BALLOTS = `
  ${SELECT}
  WHERE q.edition_id = $1 AND o.contest = $6 AND ($2::timestamptz IS NULL OR (b.cast_at, b.id) > ($2::timestamptz, $3::uuid))
    AND ($5 OR (b.voided_at IS NULL AND v.left_out_at IS NULL AND nl.version_id = vl.id AND nr.version_id = vr.id))
  ORDER BY b.cast_at, b.id LIMIT $4`;

/** Those of edition $1 with the ids $2, the newest first. */
export const BALLOTS_BY_ID = `
  ${SELECT}
  WHERE q.edition_id = $1 AND b.id = ANY($2::uuid[]) ORDER BY b.cast_at DESC, b.id DESC`;
