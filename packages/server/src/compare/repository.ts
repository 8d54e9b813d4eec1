import type { ComparableEntry } from "@tourney/core/contract";
import type * as z from "zod";
import type { Changes } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import type { Database } from "../db/connection.js";
import { COMPARABLE, ComparableRow, OutcomeRow, OUTCOMES } from "./compare-queries.sql.js";

type Outcome = Pick<ComparableEntry, "won" | "lost" | "even">;

/** What an entry can be put beside. */
export class CompareRepository {
  private readonly entries = new Kept<z.infer<typeof ComparableRow>[]>(null);
  private readonly outcomes = new Kept<Map<string, Outcome>>(null);

  constructor(private readonly db: Database) {}

  /** From now on holds which entries there are until a cell changes, and what voters made of them until a ballot does. */
  follow(changes: Pick<Changes, "of">): void {
    this.entries.follow(changes.of("cells"));
    // They are read after the entries, for which it was waited until all that was told had arrived.
    this.outcomes.follow(changes.of("ballots", { isCaughtUp: true }));
  }

  /** Each with what voters made of it on its prompt. Empty for an entry that is not there. */
  async listComparable(entryId: string, editionId: string | null): Promise<ComparableEntry[]> {
    const rows = await this.entries.get(`${entryId} ${editionId ?? ""}`, () =>
      this.db.select(ComparableRow, COMPARABLE, [entryId, editionId]),
    );
    if (rows.length === 0) return [];
    const wordingIds = [...new Set(rows.map(({ wordingId }) => wordingId))].toSorted();
    const outcomeOf = await this.outcomes.get(wordingIds.join(" "), () => this.countOutcomes(wordingIds));
    return rows.map(({ entrantId, entrantName, glyph, wordingId: _, ...row }) => ({
      ...row,
      ...(outcomeOf.get(row.entryId) ?? { won: 0, lost: 0, even: 0 }),
      entrant: { id: entrantId, name: entrantName, glyph },
    }));
  }

  private async countOutcomes(wordingIds: readonly string[]): Promise<Map<string, Outcome>> {
    const rows = await this.db.select(OutcomeRow, OUTCOMES, [wordingIds]);
    return new Map(rows.map(({ entryId, ...outcome }) => [entryId, outcome]));
  }
}
