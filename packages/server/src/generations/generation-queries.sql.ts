import * as z from "zod";

export const LostAttemptRow = z.object({ id: z.uuid(), text: z.string(), sentAt: z.date() });

/** Requests of generation $1 that have not ended, with what is stored of their streams. */
export const LOST_ATTEMPTS = `
  SELECT a.id, a.sent_at AS "sentAt",
    coalesce((SELECT string_agg(s.text, '' ORDER BY s.number) FROM stream_parts s WHERE s.attempt_id = a.id), '') AS text
  FROM attempts a WHERE a.generation_id = $1 AND a.ended_at IS NULL`;

export const STORE_PARTS = `
  INSERT INTO stream_parts (attempt_id, number, text) SELECT * FROM unnest($1::uuid[], $2::int[], $3::text[]) ON CONFLICT DO NOTHING`;

export const NOTE_SUCCESS =
  "UPDATE endpoints SET failures_in_row = 0, open_until = NULL, open_reason = NULL WHERE id = $1 AND failures_in_row > 0";

/** Endpoint $1 failed once more: after $2 failures in a row it is paused for $3 ms, doubled with each failure after, because of $4. */
export const NOTE_FAILURE = `
  UPDATE endpoints SET failures_in_row = failures_in_row + 1,
    open_until = CASE WHEN failures_in_row + 1 >= $2 THEN
      now() + least(600000, $3::float * 2 ^ least(10, (failures_in_row + 1 - $2))) * interval '1 millisecond' END,
    open_reason = CASE WHEN failures_in_row + 1 >= $2 THEN $4 END
  WHERE id = $1`;

/** Makes the jobs anew of what is in one of the states $1 and not worked on. */
export const READMIT_ALL = `
  SELECT graphile_worker.add_job('generate', json_build_object('generationId', id), job_key := 'generate:' || id)
  FROM generations WHERE state = ANY($1::text[])
    AND NOT EXISTS (SELECT FROM graphile_worker.jobs j WHERE j.key = 'generate:' || generations.id AND j.locked_at IS NOT NULL)`;
