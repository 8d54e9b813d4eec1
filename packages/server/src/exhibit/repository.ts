import { EntryFile } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";

const StageRow = z.object({
  entryId: z.uuid(),
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
    /** What is shown on the stage of a token, and on the other one of its bout; null for a token that is not one. */
    findStage: async (token: string): Promise<{ own: StageRow; other: StageRow } | null> => {
      const [bout] = await db.select(
        z.object({ own: z.uuid(), other: z.uuid() }),
        `SELECT left_entry_id AS own, right_entry_id AS other FROM bouts WHERE left_token = $1
         UNION ALL SELECT right_entry_id, left_entry_id FROM bouts WHERE right_token = $1`,
        [token],
      );
      if (!bout) return null;
      const rows = await db.select(
        StageRow,
        `SELECT e.id AS "entryId", e.entry_path AS "entryPath", e.files, q.edition_id AS "editionId",
           EXISTS (SELECT FROM jsonb_array_elements(e.facts->'leaks') l WHERE l->>'confidence' <> 'low') AS "namesItself",
           (SELECT jsonb_agg(jsonb_build_object('atMs', f->'atMs', 'file', f->'file'))
            FROM (SELECT recording FROM renders WHERE entry_id = e.id AND state = 'recorded' ORDER BY finished_at DESC LIMIT 1) r,
              jsonb_array_elements(r.recording->'frames') f) AS frames
         FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.id = g.prompt_id WHERE e.id = ANY($1::uuid[])`,
        [[bout.own, bout.other]],
      );
      const own = rows.find(({ entryId }) => entryId === bout.own);
      const other = rows.find(({ entryId }) => entryId === bout.other);
      return own && other ? { own, other } : null;
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
