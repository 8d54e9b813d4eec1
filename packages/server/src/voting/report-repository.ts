import * as z from "zod";
import type { Database } from "../db/connection.js";
import { readReportBallots, type ReportBallots } from "./report-ballots.js";
import {
  BALLOTS,
  EntrantRow,
  ENTRANTS,
  HourRow,
  HOURS,
  LAST_HOUR,
  PromptRow,
  PROMPTS,
  type ReportVoter,
  SentRow,
  SideRow,
  SIDES,
  SkipRow,
  SKIPS,
  VoterRow,
  VOTERS,
} from "./report-queries.sql.js";

/** What the report on an edition's voting is made of. */
export class ReportRepository {
  constructor(private readonly db: Database) {}

  /** In the order in which they were cast. */
  async listBallots(editionId: string): Promise<ReportBallots> {
    const [prompts, sides] = await Promise.all([
      this.db.select(PromptRow, PROMPTS, [editionId]),
      this.db.select(SideRow, SIDES, [editionId]),
    ]);
    const lists = [prompts.map(({ wordingId }) => wordingId), sides.map(({ entryId }) => entryId)];
    return readReportBallots(await this.db.select(SentRow, BALLOTS, lists), prompts, sides);
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
