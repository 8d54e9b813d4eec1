import { EntryFile } from "@tourney/core/contract";
import * as z from "zod";

/** What voters are given of an entry. Digests are of blobs. */
export const PreparedPage = z.object({
  /** The page, packed, as base64. */
  page: z.string(),
  /** The length of that. */
  bytes: z.int(),
  /** Whether it needs a database of the browser's. */
  asksForDatabase: z.boolean(),
  /** Files that it may ask for while it runs. */
  beside: z.array(z.object({ path: z.string(), sha256: z.string() })),
  /** Of the program and the names that it was made by. */
  madeBy: z.string(),
});
export type PreparedPage = z.infer<typeof PreparedPage>;

/** An entry of which a page for voters is made. */
export const StageEntry = z.object({
  id: z.uuid(),
  entryPath: z.string().nullable(),
  files: z.array(EntryFile),
  page: PreparedPage.nullable().catch(null),
});
export type StageEntry = z.infer<typeof StageEntry>;

export const StageRow = StageEntry.extend({
  editionId: z.uuid(),
  /** Whether extraction found a name of its maker in it. */
  namesItself: z.boolean(),
  frames: z.array(z.object({ atMs: z.int(), file: z.string() })).nullable(),
});
export type StageRow = z.infer<typeof StageRow>;

/** What is shown on the stage with token $1, with the edition of its panel, whose stages all have one length. */
export const STAGE = `
  SELECT e.id, e.entry_path AS "entryPath", e.files, e.stage_page AS page, p.edition_id AS "editionId",
    EXISTS (SELECT FROM jsonb_array_elements(e.facts->'leaks') l WHERE l->>'confidence' <> 'low') AS "namesItself",
    (SELECT jsonb_agg(jsonb_build_object('atMs', f->'atMs', 'file', f->'file'))
     FROM (SELECT r.recording FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded'
         ORDER BY r.recipe_digest = (SELECT q.recipe_digest FROM prompts q WHERE q.id = s.prompt_id) DESC, r.finished_at DESC LIMIT 1) r,
       jsonb_array_elements(r.recording->'frames') f) AS frames
  FROM (SELECT left_entry_id AS entry_id, voter_id, prompt_id FROM bouts WHERE left_token = $1
      UNION ALL SELECT right_entry_id, voter_id, prompt_id FROM bouts WHERE right_token = $1) s
    JOIN entries e ON e.id = s.entry_id JOIN voters v ON v.id = s.voter_id JOIN panels p ON p.id = v.panel_id`;

export const PicturesRow = z.object({ files: z.array(z.string()) });

/** The pictures of each recording that could be shown in the booth of edition $1. */
export const PICTURES = `
  SELECT (SELECT json_agg(f->>'file') FROM jsonb_array_elements(s.recording->'frames') f) AS files
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id
    CROSS JOIN LATERAL (SELECT r.recording FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded'
      ORDER BY r.recipe_digest = q.recipe_digest DESC, r.finished_at DESC LIMIT 1) s
  WHERE q.edition_id = $1 AND jsonb_array_length(s.recording->'frames') > 0`;

/** The length of the longest page that could be shown in the booth of edition $1, packed as base64; for what is not prepared yet, what it cannot be longer than. */
export const LONGEST_PAGE = `
  SELECT coalesce(max(coalesce((e.stage_page->>'bytes')::int,
      (SELECT sum((f->>'bytes')::int) * 1.4 FROM jsonb_array_elements(e.files) f))), 0)::int AS bytes
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id
  WHERE q.edition_id = $1 AND e.entry_path IS NOT NULL`;
