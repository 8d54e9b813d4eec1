import { Kind, Recording } from "@tourney/core/contract";
import * as z from "zod";

export const RowProgress = z.object({
  kind: Kind,
  toRecord: z.int(),
  recorded: z.int(),
  /** Requests that have not ended: further entries may come of them. */
  open: z.int(),
});
export type RowProgress = z.infer<typeof RowProgress>;

/** How far each row of run $1 is, in the order of the wall. */
export const ROWS = `
  SELECT q.content->>'kind' AS kind, count(e.id) FILTER (WHERE e.entry_path IS NOT NULL)::int AS "toRecord",
    count(e.id) FILTER (WHERE v.state IN ('recorded', 'failed'))::int AS recorded,
    count(DISTINCT g.id) FILTER (WHERE g.state IN ('waiting', 'queued', 'running'))::int AS open
  FROM generations g JOIN runs r ON r.id = g.run_id JOIN prompts q ON q.edition_id = r.edition_id AND q.wording_id = g.wording_id
  LEFT JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
  LEFT JOIN LATERAL (SELECT state FROM renders WHERE entry_id = e.id ORDER BY number DESC LIMIT 1) v ON true
  WHERE g.run_id = $1 AND g.superseded_at IS NULL GROUP BY q.id, q.position, q.content ORDER BY q.position`;

/** The sample run, if there is one: that of the oldest edition of the sample suite, with its panel's sample voters and ballots. */
export const SampleRun = z.object({
  runId: z.uuid(),
  voters: z.int(),
  ballots: z.int(),
  /** Recordings a second, of the last minute. Null before the first. */
  recordingsPerSecond: z.number().nullable(),
});
export const SAMPLE_RUN = `
  SELECT r.id AS "runId",
    (SELECT count(*)::int FROM voters v JOIN panels p ON p.id = v.panel_id WHERE p.edition_id = d.id AND p.contest = 'entrants' AND v.sample) AS voters,
    (SELECT count(*)::int FROM ballots b JOIN rated_bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
      JOIN panels p ON p.id = v.panel_id WHERE p.edition_id = d.id AND v.sample AND b.voided_at IS NULL) AS ballots,
    (SELECT count(*)::float / least(60, greatest(1, extract(epoch FROM now() - (SELECT min(created_at) FROM renders))))::float FROM renders
      WHERE finished_at > now() - interval '1 minute') AS "recordingsPerSecond"
  FROM suites s JOIN editions d ON d.suite_id = s.id JOIN runs r ON r.edition_id = d.id
  WHERE s.sample ORDER BY d.number, r.number LIMIT 1`;

/** One side of a bout as it was recorded. Nothing of who made it. */
export const RecordedSide = z.object({ entryId: z.uuid(), recording: Recording, kind: Kind });
export type RecordedSide = z.infer<typeof RecordedSide>;

/** Both sides of the bout of token $1, left first. */
export const RECORDED_SIDES = `
  SELECT e.id AS "entryId", v.recording, w.kind FROM bouts o
  CROSS JOIN LATERAL (VALUES (1, o.left_entry_id), (2, o.right_entry_id)) AS side(n, entry_id)
  JOIN entries e ON e.id = side.entry_id
  JOIN LATERAL (SELECT recording FROM renders WHERE entry_id = e.id AND state = 'recorded' ORDER BY number DESC LIMIT 1) v ON true
  JOIN LATERAL (SELECT q.content->>'kind' AS kind FROM prompts q WHERE q.wording_id = o.wording_id LIMIT 1) w ON true
  WHERE o.token = $1 ORDER BY side.n`;
