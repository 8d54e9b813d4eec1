import { Kind, SkipReason } from "@tourney/core/contract";
import * as z from "zod";

/** Prompts of edition $1, in their order. */
export const PromptRow = z.object({ id: z.uuid(), kind: Kind });
export const PROMPTS = `SELECT q.id, q.kind FROM prompts q WHERE q.edition_id = $1 ORDER BY q.position`;

/** The versions by which entrants are set up now. */
export const PresentVersion = z.object({ id: z.uuid() });
export const PRESENT_VERSIONS = "SELECT version_id AS id FROM entrants";

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
