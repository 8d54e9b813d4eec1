import * as z from "zod";
import type { Database } from "../db/connection.js";

/**
 * From which transaction on changes are not all known yet, with the voters whose ballots may have changed in transaction $1 or later; of one suite only, where edition $2 of it is
 * given. One row without a voter where there are none.
 */
const CHANGED_VOTERS = `
  SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS horizon, c.voter_id AS id, c.panel_id AS "panelId", c.sample, c.created_at AS "createdAt"
  FROM (SELECT) one LEFT JOIN (
    SELECT c.voter_id, v.panel_id, v.sample, extract(epoch FROM v.created_at)::float AS created_at FROM counted_voters c JOIN voters v ON v.id = c.voter_id
    WHERE c.changed_in >= $1::bigint AND ($2::uuid IS NULL OR v.panel_id IN (
      SELECT p.id FROM editions own JOIN editions d ON d.suite_id = own.suite_id JOIN panels p ON p.edition_id = d.id WHERE own.id = $2))) c ON true`;
const ChangedVoter = z.object({ id: z.uuid(), panelId: z.uuid(), sample: z.boolean(), createdAt: z.number() });
const ChangedRow = z.union([
  z.object({ horizon: z.string(), id: z.null() }),
  ChangedVoter.extend({ horizon: z.string() }),
]);
export type ChangedVoter = z.infer<typeof ChangedVoter>;

/** Before every transaction. */
const NOTHING_READ = "0";

/** Follows which voters' ballots have changed. */
export class ChangedVoters {
  private horizon = NOTHING_READ;

  /** @param editionId of the suite whose voters are meant; null for all voters */
  constructor(
    private readonly db: Database,
    private readonly editionId: string | null = null,
  ) {}

  /**
   * Hands over those that have changed since the last call, or all. What is read of them then may be newer than that: whoever changed it meanwhile is handed over again by the
   * next call.
   *
   * @returns whether it was all
   * @throws Error when the database cannot be reached, or what `take` throws; the next call then hands over all
   */
  async read(take: (changed: readonly ChangedVoter[]) => Promise<void>): Promise<boolean> {
    const since = this.horizon;
    // What is read over a connection that breaks in between is read again as a whole.
    this.horizon = NOTHING_READ;
    const rows = await this.db.select(ChangedRow, CHANGED_VOTERS, [since, this.editionId]);
    const changed = rows.filter((row) => row.id !== null);
    if (changed.length > 0) await take(changed);
    this.horizon = rows[0]!.horizon;
    return since === NOTHING_READ;
  }
}
