import type { Database } from "../db/connection.js";
import { CHANGED_VOTERS, ChangedRow, type ChangedVoter } from "./changed-voters.sql.js";

export type { ChangedVoter };

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
