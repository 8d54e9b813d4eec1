import { BrokenRule, Kind, UndeliveredRule } from "@tourney/core/contract";
import * as z from "zod";

/**
 * Thins what is kept of edition $1 by method $2: of an hour that is over for a day, the last stays. Once an hour, with the first of it, so that it costs nothing
 * while people vote.
 */
export const THIN_SNAPSHOTS = `
  DELETE FROM rating_snapshots s WHERE s.edition_id = $1 AND s.method_version = $2 AND s.kind IS NULL
    AND s.counted_at < date_trunc('hour', now()) - interval '1 day'
    AND NOT EXISTS (SELECT FROM rating_snapshots h WHERE h.edition_id = $1 AND h.counted_at >= date_trunc('hour', now()))
    AND EXISTS (SELECT FROM rating_snapshots l WHERE l.edition_id = $1 AND l.method_version = $2 AND l.kind IS NULL
      AND l.counted_at > s.counted_at AND l.counted_at < date_trunc('hour', s.counted_at) + interval '1 hour')`;

export const PanelRow = z.object({
  panelId: z.uuid(),
  title: z.string(),
  edition: z.int(),
  brokenRule: BrokenRule,
  undeliveredRule: UndeliveredRule,
});

/** Of voters $1 those that the lead has left out. */
export const LEFT_OUT = "SELECT id FROM voters WHERE id = ANY($1::uuid[]) AND left_out_at IS NOT NULL";
export const LeftOut = z.object({ id: z.uuid() });

/** The panels of the suite of edition $1: editions share wordings, and so ballots. */
export const PANELS = `
  SELECT p.id AS "panelId", p.title, d.number AS edition, p.broken_rule AS "brokenRule", p.undelivered_rule AS "undeliveredRule"
  FROM editions own JOIN editions d ON d.suite_id = own.suite_id JOIN panels p ON p.edition_id = d.id WHERE own.id = $1`;

/** Ballots on the wordings of edition $1 that were set aside. */
export const SET_ASIDE = `
  SELECT count(*)::int AS n FROM prompts q JOIN rated_bouts o ON o.wording_id = q.wording_id JOIN ballots b ON b.bout_id = o.id
  WHERE q.edition_id = $1 AND b.voided_by IN ('redo', 'mismatch')`;

export const WordedPrompt = z.object({
  promptId: z.uuid(),
  wordingId: z.uuid(),
  kind: Kind,
  tags: z.array(z.string()),
});
export type WordedPrompt = z.infer<typeof WordedPrompt>;

/** The prompts of edition $1 with their wordings. */
export const WORDED_PROMPTS = `
  SELECT id AS "promptId", wording_id AS "wordingId", kind, coalesce(content->'tags', '[]') AS tags FROM prompts WHERE edition_id = $1 ORDER BY position`;
