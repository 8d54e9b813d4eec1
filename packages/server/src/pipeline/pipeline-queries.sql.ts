import { FailureCause } from "@tourney/core/contract";
import { AT_ENDPOINT, IN_FLIGHT } from "@tourney/core/generation";
import * as z from "zod";

const list = (states: readonly string[]) => states.map((state) => `'${state}'`).join(", ");

/** The generations that hold on prompts $2 of edition $1, of entrants $3 as they are set up now, takes up to $4. */
const scope = (
  joins = "",
) => `FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entrants n ON n.version_id = g.version_id ${joins}
  WHERE q.edition_id = $1 AND q.id = ANY($2::uuid[]) AND n.id = ANY($3::uuid[]) AND g.take <= $4 AND g.superseded_at IS NULL`;

/** No answer that can be had without asking again. */
const IS_FAILED = "(g.state = 'failed' OR g.outcome = 'untaken')";

export const ProgressRow = z.object({
  ...{ total: z.int(), underWay: z.int(), running: z.int(), answered: z.int(), failed: z.int(), held: z.int() },
  ...{ extracting: z.int(), toRecord: z.int(), paused: z.int() },
});
export const PROGRESS = `
  WITH g AS MATERIALIZED (SELECT g.id, g.state, g.outcome, g.endpoint_id, n.model ${scope()}),
    e AS (SELECT e.id, e.generation_id FROM entries e JOIN g ON g.id = e.generation_id)
  SELECT count(*)::int AS total, count(*) FILTER (WHERE g.state IN (${list(IN_FLIGHT)}))::int AS "underWay",
    count(*) FILTER (WHERE g.state IN (${list(AT_ENDPOINT)}))::int AS running,
    count(*) FILTER (WHERE g.state = 'answered')::int AS answered, count(*) FILTER (WHERE ${IS_FAILED})::int AS failed,
    count(*) FILTER (WHERE g.state = 'held')::int AS held,
    count(*) FILTER (WHERE g.state = 'answered' AND g.outcome IS NULL AND g.id NOT IN (SELECT generation_id FROM e))::int AS extracting,
    (SELECT count(*) FROM renders r WHERE r.state = 'queued' AND r.entry_id IN (SELECT id FROM e))::int AS "toRecord",
    (SELECT count(*) FROM circuits c WHERE c.open_until > now()
      AND EXISTS (SELECT FROM g o WHERE o.endpoint_id = c.endpoint_id AND o.model = c.model AND o.state IN (${list(IN_FLIGHT)})))::int AS paused
  FROM g`;

export const FailedRow = z.object({
  id: z.uuid(),
  runId: z.uuid(),
  entrantId: z.uuid(),
  cause: FailureCause,
  message: z.string(),
});
/** Places that failed for good, each with the last message; one that ended without a record of why is said to be without one. */
export const FAILED = `
  SELECT g.id, g.run_id AS "runId", n.id AS "entrantId", coalesce(g.failures->-1->>'cause', 'internal') AS cause,
    coalesce(split_part(g.failures->-1->>'message', E'\\n', 1), 'No reason was recorded.') AS message
  ${scope()} AND ${IS_FAILED} AND g.run_id IS NOT NULL ORDER BY g.run_id, g.id`;

export const FindingRow = z.object({
  entrantId: z.uuid(),
  rule: z.string(),
  severity: z.enum(["error", "warning"]),
  entries: z.int(),
});
/** Of the first shots' newest recordings, how many have which finding. */
export const FINDINGS = `
  SELECT n.id AS "entrantId", f->>'rule' AS rule, f->>'severity' AS severity, count(DISTINCT e.id)::int AS entries
  ${scope(`JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
    JOIN LATERAL (SELECT faults FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded' ORDER BY r.number DESC LIMIT 1) v ON true
    CROSS JOIN jsonb_array_elements(v.faults) f`)} AND g.round = 0
  GROUP BY 1, 2, 3 ORDER BY 3, 4 DESC, 2`;
