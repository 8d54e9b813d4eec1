import * as z from "zod";
import type { Database } from "../db/connection.js";
import {
  BallotRow,
  BALLOTS,
  EntrantRow,
  ENTRANTS,
  HourRow,
  HOURS,
  LAST_HOUR,
  type ReportBallot,
  type ReportVoter,
  SkipRow,
  SKIPS,
  VoterRow,
  VOTERS,
} from "./report-queries.sql.js";

/** What the report on an edition's voting is made of. */
export class ReportRepository {
  constructor(private readonly db: Database) {}

  listBallots(editionId: string): Promise<ReportBallot[]> {
    return this.db.select(BallotRow, BALLOTS, [editionId]);
  }

  listVoters(editionId: string): Promise<ReportVoter[]> {
    return this.db.select(VoterRow, VOTERS, [editionId]);
  }

  listHours(editionId: string) {
    return this.db.select(HourRow, HOURS, [editionId]);
  }

  async countLastHour(editionId: string): Promise<number> {
    const [row] = await this.db.select(z.object({ ballots: z.int() }), LAST_HOUR, [editionId]);
    return row!.ballots;
  }

  listSkips(editionId: string) {
    return this.db.select(SkipRow, SKIPS, [editionId]);
  }

  listEntrants(editionId: string) {
    return this.db.select(EntrantRow, ENTRANTS, [editionId]);
  }
}
