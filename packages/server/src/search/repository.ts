import type { SearchHit } from "@tourney/core/contract";
import type { Database } from "../db/connection.js";
import { HitRow, SEARCH } from "./search-queries.sql.js";

/** Finds texts of an edition. */
export class SearchRepository {
  constructor(private readonly db: Database) {}

  /**
   * @param words lower case, letters and digits only.
   * @param most of each sort.
   */
  find(editionId: string, words: readonly string[], most: number): Promise<SearchHit[]> {
    const query = words.map((word) => `${word}:*`).join(" & ");
    return this.db.select(HitRow, SEARCH, [editionId, query, words[0], most]);
  }
}
