import * as z from "zod";

/**
 * From which transaction on changes are not all known yet, with the voters whose ballots may have changed in transaction $1 or later; of one suite only, where edition $2 of it is
 * given. One row without a voter where there are none. A voter's mark tells these ballots from what they were and will be, in this database or in a copy of it; there is none while
 * a transaction is open that may have changed them.
 */
export const CHANGED_VOTERS = `
  SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS horizon, c.voter_id AS id, c.panel_id AS "panelId", c.sample, c.created_at AS "createdAt", c.mark
  FROM (SELECT) one LEFT JOIN (
    SELECT c.voter_id, v.panel_id, v.sample, extract(epoch FROM v.created_at)::float AS created_at,
      CASE WHEN c.changed_in < pg_snapshot_xmin(pg_current_snapshot())::text::bigint THEN concat_ws(' ', c.changed_in, c.ballots, extract(epoch FROM c.last_ballot_at)) END AS mark
    FROM counted_voters c JOIN voters v ON v.id = c.voter_id
    WHERE c.changed_in >= $1::bigint AND ($2::uuid IS NULL OR v.panel_id IN (
      SELECT p.id FROM editions own JOIN editions d ON d.suite_id = own.suite_id JOIN panels p ON p.edition_id = d.id WHERE own.id = $2))) c ON true`;
const ChangedVoter = z.object({
  id: z.uuid(),
  panelId: z.uuid(),
  sample: z.boolean(),
  createdAt: z.number(),
  mark: z.string().nullable(),
});
export const ChangedRow = z.union([
  z.object({ horizon: z.string(), id: z.null() }),
  ChangedVoter.extend({ horizon: z.string() }),
]);
export type ChangedVoter = z.infer<typeof ChangedVoter>;

/** Which migrations the database has. */
export const SCHEMA = `SELECT string_agg(name, ' ' ORDER BY name) AS schema FROM migrations`;
export const Schema = z.object({ schema: z.string() });
