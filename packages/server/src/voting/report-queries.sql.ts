import { Kind, Reason, SkipReason } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

/** Wordings of edition $1, by which its ballots are found. */
export const PromptRow = z.object({ id: z.uuid(), wordingId: z.uuid(), kind: Kind });
export const PROMPTS = `SELECT q.id, q.wording_id AS "wordingId", q.kind FROM prompts q WHERE q.edition_id = $1`;

/** Entries on those wordings, each with who made it and whether the entrant is set up as it was then. */
export const SideRow = z.object({
  entryId: z.uuid(),
  versionId: z.uuid(),
  entrantId: z.uuid(),
  isPresent: z.boolean(),
});
export const SIDES = `
  SELECT e.id AS "entryId", v.id AS "versionId", n.id AS "entrantId", n.version_id = v.id AS "isPresent"
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id
    JOIN entrant_versions v ON v.id = g.version_id JOIN entrants n ON n.id = v.entrant_id
  WHERE q.edition_id = $1`;

export const SentRow = z.object({ voterId: z.uuid(), bytes: z.instanceof(Buffer) });

/** Bytes of one ballot as `BALLOTS` sends it. */
export const BALLOT_BYTES = 28;

/**
 * By voter the ballots on wordings $1 between entries $2 that count, whichever panel they come from, as bytes: when each was cast in microseconds, eight; where
 * its wording and its two entries stand in these lists, four each; the milliseconds that it took, four; its lean and whether it was automatic, two; its reasons as
 * bits, two. Rows with names would take a hundred times as long to read.
 */
export const BALLOTS = `
  SELECT o.voter_id AS "voterId", string_agg(int8send((extract(epoch FROM b.cast_at) * 1000000)::bigint)
      || int4send((w.place - 1)::int) || int4send((l.place - 1)::int) || int4send((r.place - 1)::int) || int4send(b.dwell_ms)
      || int2send(((b.lean + 2) * 2 + o.is_automatic::int)::int2) || int2send((CASE WHEN b.reasons = '[]' THEN 0 ELSE ${Reason.options
        .map((reason, bit) => `(b.reasons @> '"${reason}"')::int * ${1 << bit}`)
        .join(" + ")} END)::int2), '') AS bytes
  FROM unnest($1::uuid[]) WITH ORDINALITY w(id, place) JOIN rated_bouts o ON o.wording_id = w.id
    JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    JOIN unnest($2::uuid[]) WITH ORDINALITY l(id, place) ON l.id = o.left_entry_id
    JOIN unnest($2::uuid[]) WITH ORDINALITY r(id, place) ON r.id = o.right_entry_id
  GROUP BY 1`;

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
