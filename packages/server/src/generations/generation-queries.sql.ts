import * as z from "zod";

export const LostAttemptRow = z.object({ id: z.uuid(), text: z.string(), sentAt: z.date() });

/** Requests of generation $1 that have not ended, with what is stored of their streams. */
export const LOST_ATTEMPTS = `
  SELECT a.id, a.sent_at AS "sentAt",
    coalesce((SELECT string_agg(s.text, '' ORDER BY s.number) FROM stream_parts s WHERE s.attempt_id = a.id), '') AS text
  FROM attempts a WHERE a.generation_id = $1 AND a.ended_at IS NULL`;

export const STORE_PARTS = `
  INSERT INTO stream_parts (attempt_id, number, text) SELECT * FROM unnest($1::uuid[], $2::int[], $3::text[]) ON CONFLICT DO NOTHING`;

export const NOTE_SUCCESS = "DELETE FROM circuits WHERE endpoint_id = $1 AND model = $2";

/**
 * Model $2 at endpoint $1 failed, because of $5, in a request sent at $6. After $3 failures in a row it is paused for $4 ms, doubled with each
 * failure after, five minutes at most. What was under way when the last failure was counted is part of that one.
 */
export const NOTE_FAILURE = `
  INSERT INTO circuits AS c (endpoint_id, model, open_until, reason)
  VALUES ($1, $2, CASE WHEN $3 <= 1 THEN now() + $4::float * interval '1 millisecond' END, $5)
  ON CONFLICT (endpoint_id, model) DO UPDATE SET failures = c.failures + 1, counted_at = now(), reason = $5,
    open_until = CASE WHEN c.failures + 1 >= $3 THEN
      now() + least(300000, $4::float * 2 ^ least(10, c.failures + 1 - $3)) * interval '1 millisecond' END
  WHERE c.counted_at < $6`;

/** Makes the jobs anew of what is in one of the states $1 and not worked on. */
export const READMIT_ALL = `
  SELECT graphile_worker.add_job('generate', json_build_object('generationId', id), job_key := 'generate:' || id)
  FROM generations WHERE state = ANY($1::text[])
    AND NOT EXISTS (SELECT FROM graphile_worker.jobs j WHERE j.key = 'generate:' || generations.id AND j.locked_at IS NOT NULL)`;
