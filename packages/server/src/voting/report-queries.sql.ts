import { Kind, Reason, SkipReason } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

export const BallotRow = z.object({
  voterId: z.uuid(),
  promptId: z.uuid(),
  kind: Kind,
  leftEntryId: z.uuid(),
  rightEntryId: z.uuid(),
  leftVersionId: z.uuid(),
  rightVersionId: z.uuid(),
  leftEntrantId: z.uuid(),
  rightEntrantId: z.uuid(),
  /** Whether both entrants are set up now as they were then. */
  isPresent: z.boolean(),
  lean: z.int(),
  reasons: z.array(Reason),
  dwellMs: z.int(),
  isAutomatic: z.boolean(),
});
export type ReportBallot = z.infer<typeof BallotRow>;

/** Ballots on the wordings of edition $1 that count, whichever panel they come from. */
export const BALLOTS = `
  SELECT o.voter_id AS "voterId", q.id AS "promptId", q.kind, o.left_entry_id AS "leftEntryId", o.right_entry_id AS "rightEntryId",
    o.left_version_id AS "leftVersionId", o.right_version_id AS "rightVersionId", nl.id AS "leftEntrantId", nr.id AS "rightEntrantId",
    nl.version_id = vl.id AND nr.version_id = vr.id AS "isPresent", b.lean, b.reasons, b.dwell_ms AS "dwellMs", o.is_automatic AS "isAutomatic"
  FROM prompts q JOIN rated_bouts o ON o.wording_id = q.wording_id JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    JOIN entrant_versions vl ON vl.id = o.left_version_id JOIN entrants nl ON nl.id = vl.entrant_id
    JOIN entrant_versions vr ON vr.id = o.right_version_id JOIN entrants nr ON nr.id = vr.entrant_id
  WHERE q.edition_id = $1 ORDER BY b.cast_at`;

export const VoterRow = z.object({
  voterId: z.uuid(),
  panelTitle: z.string(),
  name: z.string(),
  sample: z.boolean(),
  leftOut: z.string().nullable(),
});
export type ReportVoter = z.infer<typeof VoterRow>;

/** Voters of the panels of edition $1's suite: any of them may have voted on a wording that the edition has. */
export const VOTERS = `
  SELECT v.id AS "voterId", p.title AS "panelTitle", v.name, v.sample, v.left_out_why AS "leftOut"
  FROM editions d JOIN editions o ON o.suite_id = d.suite_id JOIN panels p ON p.edition_id = o.id JOIN voters v ON v.panel_id = p.id
  WHERE d.id = $1 ORDER BY p.created_at, v.created_at, v.name`;

export const HourRow = z.object({ at: isoDate, ballots: z.int() });

export const HOURS = `
  SELECT date_trunc('hour', b.cast_at) AS at, count(*)::int AS ballots
  FROM prompts q JOIN bouts o ON o.wording_id = q.wording_id JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
  WHERE q.edition_id = $1 AND NOT o.is_automatic AND b.cast_at > date_trunc('hour', now()) - interval '23 hours' GROUP BY 1 ORDER BY 1`;

export const LAST_HOUR = `
  SELECT count(*)::int AS ballots FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN prompts q ON q.wording_id = o.wording_id
  WHERE q.edition_id = $1 AND b.voided_at IS NULL AND NOT o.is_automatic AND b.cast_at > now() - interval '1 hour'`;

export const SkipRow = z.object({ reason: SkipReason, count: z.int() });

export const SKIPS = `
  SELECT o.skip_reason AS reason, count(*)::int AS count FROM bouts o JOIN prompts q ON q.wording_id = o.wording_id
  WHERE q.edition_id = $1 AND o.skipped_at IS NOT NULL GROUP BY 1 ORDER BY 2 DESC`;

export const EntrantRow = z.object({ id: z.uuid(), name: z.string(), glyph: z.int(), versionId: z.uuid() });

/** Entrants with a page for a wording of edition $1, as they are set up now. */
export const ENTRANTS = `
  SELECT n.id, n.name, n.glyph, n.version_id AS "versionId" FROM entrants n WHERE EXISTS (SELECT FROM generations g JOIN prompts q ON q.wording_id = g.wording_id
    JOIN entries e ON e.generation_id = g.id
    WHERE g.version_id = n.version_id AND q.edition_id = $1 AND g.superseded_at IS NULL AND e.entry_path IS NOT NULL) ORDER BY n.name`;
