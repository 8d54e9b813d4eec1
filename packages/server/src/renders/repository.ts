import { EntryFile, PromptDefinition, Recording, RENDERER_VERSION, Worker } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate } from "../db/row.js";

const Recordable = z.object({
  entryId: z.uuid(),
  entryPath: z.string(),
  files: z.array(EntryFile),
  prompt: PromptDefinition,
});
export type Recordable = z.infer<typeof Recordable>;

const Counts = z.object({
  waiting: z.int(),
  running: z.int(),
  stale: z.int(),
  failed: z.int(),
  recordedLastMinute: z.int(),
});

const StoredRecording = z.object({
  recording: Recording,
  promptKey: z.string(),
  entrantKey: z.string(),
  take: z.int(),
});
export type StoredRecording = z.infer<typeof StoredRecording>;

/** Every entry of edition $1 with its newest recording, v. */
const NEWEST = `FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.id = g.prompt_id
  LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id ORDER BY r.number DESC LIMIT 1) v ON true
  WHERE q.edition_id = $1 AND e.entry_path IS NOT NULL`;

const ONLY = {
  all: "true",
  stale: `v.state = 'recorded' AND v.recording->>'rendererVersion' <> '${RENDERER_VERSION}'`,
  failed: `v.state = 'failed'`,
} as const;

export function createRenderRepository(db: Database) {
  return {
    /** The entries of a scope that can be recorded, those that are waiting for it already left out. */
    listRecordable: (
      editionId: string,
      { promptId, entrantId, only }: { promptId: string | null; entrantId: string | null; only: keyof typeof ONLY },
    ) =>
      db.select(
        Recordable,
        `SELECT e.id AS "entryId", e.entry_path AS "entryPath", e.files, q.content AS prompt ${NEWEST}
           AND ($2::uuid IS NULL OR q.id = $2) AND ($3::uuid IS NULL OR g.entrant_id = $3)
           AND v.state IS DISTINCT FROM 'queued' AND (${ONLY[only]})
         ORDER BY q.position, g.entrant_id, g.take`,
        [editionId, promptId, entrantId],
      ),
    async countQueue(editionId: string): Promise<z.infer<typeof Counts>> {
      const [row] = await db.select(
        Counts,
        `SELECT count(*) FILTER (WHERE v.state = 'queued' AND j.locked_at IS NULL)::int AS waiting,
           count(*) FILTER (WHERE v.state = 'queued' AND j.locked_at IS NOT NULL)::int AS running,
           count(*) FILTER (WHERE ${ONLY.stale})::int AS stale, count(*) FILTER (WHERE ${ONLY.failed})::int AS failed,
           count(*) FILTER (WHERE v.finished_at > now() - interval '1 minute')::int AS "recordedLastMinute"
         ${NEWEST.replace("WHERE q.edition_id", "LEFT JOIN graphile_worker.jobs j ON j.key = 'render:' || v.id WHERE q.edition_id")}`,
        [editionId],
      );
      return row!;
    },
    listWorkers: () =>
      db.select(
        z.object({ ...Worker.shape, startedAt: isoDate, seenAt: isoDate }),
        `SELECT id, kind, host, pid, capacity, renderer_version AS "rendererVersion", started_at AS "startedAt", seen_at AS "seenAt"
         FROM workers WHERE seen_at > now() - interval '30 seconds' ORDER BY kind, host, started_at`,
      ),
    async findRecording(renderId: string): Promise<StoredRecording | null> {
      const [row] = await db.select(
        StoredRecording,
        `SELECT v.recording, q.key AS "promptKey", n.key AS "entrantKey", g.take FROM renders v JOIN entries e ON e.id = v.entry_id
           JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.id = g.prompt_id JOIN entrants n ON n.id = g.entrant_id
         WHERE v.id = $1 AND v.state = 'recorded'`,
        [renderId],
      );
      return row ?? null;
    },
  };
}
export type RenderRepository = ReturnType<typeof createRenderRepository>;
