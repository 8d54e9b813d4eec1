import type { ComparableEntry } from "@tourney/core/contract";
import type { HeldBallots } from "../ballots/held-ballots.js";
import type { Database } from "../db/connection.js";
import { COMPARABLE, ComparableRow } from "./compare-queries.sql.js";
import { countOutcomes } from "./count-outcomes.js";

/** What an entry can be put beside. */
export class CompareRepository {
  constructor(
    private readonly db: Database,
    private readonly ballots: HeldBallots,
  ) {}

  /** Each with what voters made of it on its prompt. Empty for an entry that is not there. */
  async listComparable(entryId: string, editionId: string | null): Promise<ComparableEntry[]> {
    const rows = await this.db.select(ComparableRow, COMPARABLE, [entryId, editionId]);
    if (rows.length === 0) return [];
    const wordingIds = [...new Set(rows.map(({ wordingId }) => wordingId))].toSorted();
    const outcomeOf = countOutcomes(await this.ballots.readOn(rows[0]!.editionId, wordingIds));
    return rows.map(({ entrantId, entrantName, glyph, editionId: _, wordingId: __, ...row }) => ({
      ...row,
      ...(outcomeOf.get(row.entryId) ?? { won: 0, lost: 0, even: 0 }),
      entrant: { id: entrantId, name: entrantName, glyph },
    }));
  }
}
