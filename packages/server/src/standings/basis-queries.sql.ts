import { BrokenRule, Kind, UndeliveredRule } from "@tourney/core/contract";
import * as z from "zod";

export const BasisPrompt = z.object({
  id: z.uuid(),
  wordingId: z.uuid(),
  key: z.string(),
  title: z.string(),
  kind: Kind,
  tags: z.array(z.string()),
  isVariant: z.boolean(),
});

/** The prompts of edition $1 with their wordings. */
export const BASIS_PROMPTS = `
  SELECT id, wording_id AS "wordingId", key, content->>'title' AS title, kind, coalesce(content->'tags', '[]') AS tags, content->'variantOf' IS NOT NULL AS "isVariant"
  FROM prompts WHERE edition_id = $1 ORDER BY position`;

export const BasisVoter = z.object({ id: z.uuid(), name: z.string(), panelId: z.uuid(), sample: z.boolean() });

/** Of voters $1 those that the lead has not left out, of the panels of contest $2; where it is given, of step $3. */
export const BASIS_VOTERS = `
  SELECT v.id, v.name, v.panel_id AS "panelId", v.sample FROM voters v JOIN panels p ON p.id = v.panel_id
  WHERE v.id = ANY($1::uuid[]) AND p.contest = $2 AND ($3::int IS NULL OR p.step = $3) AND v.left_out_at IS NULL ORDER BY v.created_at, v.id`;

export const BasisPanel = z.object({
  id: z.uuid(),
  title: z.string(),
  edition: z.int(),
  brokenRule: BrokenRule,
  undeliveredRule: UndeliveredRule,
});

export const OtherPages = z.object({ pages: z.string() });
/** Pages on wordings $1 that were compared beside first shots. That they are not between entrants is said for the index of such bouts. */
export const OTHER_PAGES = `
  SELECT DISTINCT CASE o.contest WHEN 'mended' THEN 'mended-' ELSE 'turn-' END || p.step AS pages
  FROM bouts o JOIN voters v ON v.id = o.voter_id JOIN panels p ON p.id = v.panel_id
  WHERE o.contest <> 'entrants' AND o.contest IN ('mended', 'turn_pages') AND o.wording_id = ANY($1::uuid[]) ORDER BY 1`;

/** Panels $1, the oldest first. */
export const BASIS_PANELS = `
  SELECT p.id, p.title, d.number AS edition, p.broken_rule AS "brokenRule", p.undelivered_rule AS "undeliveredRule"
  FROM panels p JOIN editions d ON d.id = p.edition_id WHERE p.id = ANY($1::uuid[]) ORDER BY p.created_at, p.id`;

export const BrokenEntry = z.object({ id: z.uuid(), hasPage: z.boolean() });

/** Entries on the prompts of edition $1 that have no page, or whose recording shows nothing: one by the edition's own recipe before others. */
export const BROKEN_ENTRIES = `
  SELECT id, "hasPage" FROM (
    SELECT DISTINCT ON (e.id) e.id, e.entry_path IS NOT NULL AS "hasPage", r.shows_nothing
    FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id
      LEFT JOIN renders r ON r.entry_id = e.id AND r.state = 'recorded'
    WHERE q.edition_id = $1 ORDER BY e.id, r.recipe_digest = q.recipe_digest DESC NULLS LAST, r.number DESC) x
  WHERE NOT "hasPage" OR shows_nothing`;
