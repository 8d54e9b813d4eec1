import { EntryFile } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";

const StageRow = z.object({
  entryPath: z.string().nullable(),
  files: z.array(EntryFile),
  editionId: z.uuid(),
  /** Whether extraction found a name of its maker in it. */
  namesItself: z.boolean(),
  frames: z.array(z.object({ atMs: z.int(), file: z.string() })).nullable(),
});
export type StageRow = z.infer<typeof StageRow>;

export function createExhibitRepository(db: Database) {
  return {
    /** What is shown on the stage of a token; null for a token that is not one. */
    findStage: async (token: string): Promise<StageRow | null> => {
      const [row] = await db.select(
        StageRow,
        `SELECT e.entry_path AS "entryPath", e.files, q.edition_id AS "editionId",
           EXISTS (SELECT FROM jsonb_array_elements(e.facts->'leaks') l WHERE l->>'confidence' <> 'low') AS "namesItself",
           (SELECT jsonb_agg(jsonb_build_object('atMs', f->'atMs', 'file', f->'file'))
            FROM (SELECT recording FROM renders WHERE entry_id = e.id AND state = 'recorded' ORDER BY finished_at DESC LIMIT 1) r,
              jsonb_array_elements(r.recording->'frames') f) AS frames
         FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.id = g.prompt_id
         WHERE e.id = (SELECT left_entry_id FROM bouts WHERE left_token = $1 UNION ALL SELECT right_entry_id FROM bouts WHERE right_token = $1)`,
        [token],
      );
      return row ?? null;
    },
    /** The pictures of each recording that could be shown in the booth of an edition. */
    listPictures: async (editionId: string): Promise<string[][]> => {
      const rows = await db.select(
        z.object({ files: z.array(z.string()) }),
        `SELECT (SELECT json_agg(f->>'file') FROM jsonb_array_elements(s.recording->'frames') f) AS files
         FROM prompts q JOIN generations g ON g.prompt_id = q.id JOIN entries e ON e.generation_id = g.id
           CROSS JOIN LATERAL (SELECT r.recording FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded'
             ORDER BY r.finished_at DESC LIMIT 1) s
         WHERE q.edition_id = $1 AND jsonb_array_length(s.recording->'frames') > 0`,
        [editionId],
      );
      return rows.map(({ files }) => files);
    },
    /** The length of the longest page that could be shown in the booth of an edition, its files in it as base64 and some of them twice. */
    findLongestPage: async (editionId: string): Promise<number> => {
      const [row] = await db.select(
        z.object({ bytes: z.int() }),
        `SELECT coalesce(max(s.bytes), 0)::int AS bytes
         FROM prompts q JOIN generations g ON g.prompt_id = q.id JOIN entries e ON e.generation_id = g.id
           CROSS JOIN LATERAL (SELECT sum((f->>'bytes')::int * CASE WHEN f->>'path' = e.entry_path THEN 1 ELSE 1.5 END) AS bytes
             FROM jsonb_array_elements(e.files) f) s
         WHERE q.edition_id = $1 AND e.entry_path IS NOT NULL`,
        [editionId],
      );
      return row!.bytes;
    },
  };
}
export type ExhibitRepository = ReturnType<typeof createExhibitRepository>;
