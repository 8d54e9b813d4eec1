import { EntryFile, PromptDefinition, Recording, RENDERER_VERSION, Worker } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

export const WorkerRow = z.object({ ...Worker.shape, startedAt: isoDate, seenAt: isoDate });

export const Recordable = z.object({
  entryId: z.uuid(),
  entryPath: z.string(),
  files: z.array(EntryFile),
  recipe: z.object(PromptDefinition.shape),
  recipeDigest: z.string(),
  /** Of the prompt's row on the wall. */
  priority: z.int(),
});
export type Recordable = z.infer<typeof Recordable>;

/** What is being recorded. */
export const Moving = z.object({ waiting: z.int(), running: z.int(), recordedLastMinute: z.int() });
/** What might be recorded again. */
export const Redoable = z.object({ stale: z.int(), failed: z.int() });

export const StoredRecording = z.object({
  recording: Recording,
  promptKey: z.string(),
  entrantKey: z.string(),
  take: z.int(),
});
export type StoredRecording = z.infer<typeof StoredRecording>;

/** Every entry of edition $1 that holds, of entrants as they are set up now, with its newest recording, v. */
const NEWEST = `FROM entries e JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.version_id = g.version_id
  JOIN prompts q ON q.wording_id = g.wording_id
  LEFT JOIN LATERAL (SELECT * FROM renders r WHERE r.entry_id = e.id ORDER BY r.number DESC LIMIT 1) v ON true
  WHERE q.edition_id = $1 AND g.superseded_at IS NULL AND e.entry_path IS NOT NULL`;

export type Only = keyof typeof ONLY;
const ONLY = {
  all: "true",
  stale: `v.state = 'recorded' AND (v.renderer_version <> '${RENDERER_VERSION}' OR v.recipe_digest <> q.recipe_digest)`,
  failed: `v.state = 'failed'`,
} as const;

export const LIST_RECORDABLE = (only: keyof typeof ONLY) => `
  SELECT e.id AS "entryId", e.entry_path AS "entryPath", e.files, q.content AS recipe, q.recipe_digest AS "recipeDigest",
    q.position AS priority ${NEWEST}
    AND ($2::uuid IS NULL OR q.id = $2) AND ($3::uuid IS NULL OR g.entrant_id = $3)
    AND v.state IS DISTINCT FROM 'queued' AND (${ONLY[only]})
  ORDER BY q.position, g.entrant_id, g.take`;

/** By the recordings that wait or ended lately: a few of all. */
export const COUNT_MOVING = `
  SELECT count(*) FILTER (WHERE v.state = 'queued' AND j.locked_at IS NULL)::int AS waiting,
    count(*) FILTER (WHERE v.state = 'queued' AND j.locked_at IS NOT NULL)::int AS running,
    count(*) FILTER (WHERE v.finished_at > now() - interval '1 minute')::int AS "recordedLastMinute"
  FROM renders v JOIN entries e ON e.id = v.entry_id JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.version_id = g.version_id
    JOIN prompts q ON q.wording_id = g.wording_id LEFT JOIN graphile_worker.jobs j ON j.key = 'render:' || v.id
  WHERE q.edition_id = $1 AND g.superseded_at IS NULL AND e.entry_path IS NOT NULL
    AND (v.state = 'queued' OR v.finished_at > now() - interval '1 minute')
    AND NOT EXISTS (SELECT FROM renders w WHERE w.entry_id = v.entry_id AND w.number > v.number)`;

export const COUNT_REDOABLE = `
  SELECT count(*) FILTER (WHERE ${ONLY.stale})::int AS stale, count(*) FILTER (WHERE ${ONLY.failed})::int AS failed ${NEWEST}`;

export const WORKERS = `
  SELECT id, kind, host, pid, capacity, renderer_version AS "rendererVersion", started_at AS "startedAt", seen_at AS "seenAt"
  FROM workers WHERE seen_at > now() - interval '30 seconds' ORDER BY kind, host, started_at`;

export const RECORDING = `
  SELECT v.recording, q.key AS "promptKey", n.key AS "entrantKey", g.take FROM renders v JOIN entries e ON e.id = v.entry_id
    JOIN generations g ON g.id = e.generation_id JOIN newest_prompts q ON q.wording_id = g.wording_id JOIN entrants n ON n.id = g.entrant_id
  WHERE v.id = $1 AND v.state = 'recorded'`;
