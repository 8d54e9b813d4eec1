import * as z from "zod";

/**
 * From which transaction on changes are not all known yet, with the voters whose ballots may have changed in transaction $1 or later; of one suite only, where edition $2 of it is
 * given. One row without a voter where there are none.
 */
export const CHANGED_VOTERS = `
  SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS horizon, c.voter_id AS id, c.panel_id AS "panelId", c.sample, c.created_at AS "createdAt"
  FROM (SELECT) one LEFT JOIN (
    SELECT c.voter_id, v.panel_id, v.sample, extract(epoch FROM v.created_at)::float AS created_at FROM counted_voters c JOIN voters v ON v.id = c.voter_id
    WHERE c.changed_in >= $1::bigint AND ($2::uuid IS NULL OR v.panel_id IN (
      SELECT p.id FROM editions own JOIN editions d ON d.suite_id = own.suite_id JOIN panels p ON p.edition_id = d.id WHERE own.id = $2))) c ON true`;
const ChangedVoter = z.object({ id: z.uuid(), panelId: z.uuid(), sample: z.boolean(), createdAt: z.number() });
export const ChangedRow = z.union([
  z.object({ horizon: z.string(), id: z.null() }),
  ChangedVoter.extend({ horizon: z.string() }),
]);
export type ChangedVoter = z.infer<typeof ChangedVoter>;
