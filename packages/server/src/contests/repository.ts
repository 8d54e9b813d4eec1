import type { Database } from "../db/connection.js";
import {
  BETWEEN,
  BetweenRow,
  CONTEST_BALLOTS,
  ContestBallotRow,
  NewcomerRow,
  NEWCOMERS,
} from "./contest-queries.sql.js";

/** Reads the ballots of contests beside the ratings. */
export class ContestRepository {
  constructor(private readonly db: Database) {}

  listBallots(editionId: string) {
    return this.db.select(ContestBallotRow, CONTEST_BALLOTS, [editionId]);
  }

  /** What rated ballots on the same pages have in common, by prompt. */
  listBetween(editionId: string) {
    return this.db.select(BetweenRow, BETWEEN, [editionId]);
  }

  async listNewcomers(editionId: string): Promise<string[]> {
    const rows = await this.db.select(NewcomerRow, NEWCOMERS, [editionId]);
    return rows.map(({ versionId }) => versionId);
  }
}
