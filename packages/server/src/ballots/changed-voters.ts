import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";

/** From which transaction on changes are not all known yet. Of the same moment as what is read after it. */
const HORIZON = "SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS horizon";
const Horizon = z.object({ horizon: z.string() });

/** Voters whose ballots may have changed in transaction $1 or later; of one suite only, where edition $2 of it is given. */
const CHANGED_VOTERS = `
  SELECT c.voter_id AS id, v.panel_id AS "panelId", v.sample, extract(epoch FROM v.created_at)::float AS "createdAt"
  FROM counted_voters c JOIN voters v ON v.id = c.voter_id WHERE c.changed_in >= $1::bigint AND ($2::uuid IS NULL OR v.panel_id IN (
    SELECT p.id FROM editions own JOIN editions d ON d.suite_id = own.suite_id JOIN panels p ON p.edition_id = d.id WHERE own.id = $2))`;
const ChangedVoter = z.object({ id: z.uuid(), panelId: z.uuid(), sample: z.boolean(), createdAt: z.number() });
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
   * Hands over those that have changed since the last call, or all, in a transaction that sees one moment.
   *
   * @returns whether it was all
   * @throws Error when the database cannot be reached, or what `take` throws; the next call then hands over all
   */
  async read(take: (changed: readonly ChangedVoter[], transaction: Transaction) => Promise<void>): Promise<boolean> {
    const since = this.horizon;
    // What is read over a connection that breaks in between is read again as a whole.
    this.horizon = NOTHING_READ;
    this.horizon = await this.db.transact(async (transaction) => {
      await this.db.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ", [], transaction);
      const [now] = await this.db.select(Horizon, HORIZON, [], transaction);
      const changed = await this.db.select(ChangedVoter, CHANGED_VOTERS, [since, this.editionId], transaction);
      if (changed.length > 0) await take(changed, transaction);
      return now!.horizon;
    });
    return since === NOTHING_READ;
  }
}
