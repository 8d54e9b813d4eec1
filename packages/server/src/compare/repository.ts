import type { ComparableEntry } from "@tourney/core/contract";
import type { Database } from "../db/connection.js";
import { COMPARABLE, ComparableRow } from "./compare-queries.sql.js";

/** What an entry can be put beside. */
export class CompareRepository {
  constructor(private readonly db: Database) {}

  /** Empty for an entry that is not there. */
  async listComparable(entryId: string, editionId: string | null): Promise<ComparableEntry[]> {
    const rows = await this.db.select(ComparableRow, COMPARABLE, [entryId, editionId]);
    return rows.map(({ entrantId, entrantName, glyph, ...row }) => ({
      ...row,
      entrant: { id: entrantId, name: entrantName, glyph },
    }));
  }
}
