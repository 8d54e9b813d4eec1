import type { ComparableEntry } from "@tourney/core/contract";
import type * as z from "zod";
import type { HeldBallots } from "../ballots/held-ballots.js";
import type { Stamps } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import type { Database } from "../db/connection.js";
import { COMPARABLE, ComparableRow } from "./compare-queries.sql.js";
import { countOutcomes } from "./count-outcomes.js";

/** What an entry can be put beside. */
export class CompareRepository {
  private readonly entries = new Kept<z.infer<typeof ComparableRow>[]>(null);

  constructor(
    private readonly db: Database,
    private readonly ballots: HeldBallots,
  ) {}

  /** From now on holds which entries there are until a cell changes. */
  follow(ofCells: Stamps): void {
    this.entries.follow(ofCells);
  }

  /** Each with what voters made of it on its prompt. Empty for an entry that is not there. */
  async listComparable(entryId: string, editionId: string | null): Promise<ComparableEntry[]> {
    const rows = await this.entries.get(`${entryId} ${editionId ?? ""}`, () =>
      this.db.select(ComparableRow, COMPARABLE, [entryId, editionId]),
    );
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
