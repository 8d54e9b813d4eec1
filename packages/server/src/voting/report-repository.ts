import type { VotingReport } from "@tourney/core/contract";
import type { HeldBallots } from "../ballots/held-ballots.js";
import type { Database } from "../db/connection.js";
import { chooseRated, countHours, type ReportBallots } from "./report-ballots.js";
import {
  EntrantRow,
  ENTRANTS,
  PRESENT_VERSIONS,
  PresentVersion,
  PromptRow,
  PROMPTS,
  type ReportVoter,
  SkipRow,
  SKIPS,
  VoterRow,
  VOTERS,
} from "./report-queries.sql.js";

/** What the report on an edition's voting is made of. */
export class ReportRepository {
  constructor(
    private readonly db: Database,
    private readonly ballots: HeldBallots,
  ) {}

  /** Ballots in the order in which they were cast, whichever panel they come from, and when people voted lately. */
  async readBallots(
    editionId: string,
  ): Promise<{ all: ReportBallots } & Pick<VotingReport, "hours" | "ballotsLastHour">> {
    const [prompts, present, table] = await Promise.all([
      this.db.select(PromptRow, PROMPTS, [editionId]),
      this.db.select(PresentVersion, PRESENT_VERSIONS),
      this.ballots.read(editionId),
    ]);
    return {
      all: chooseRated(table, prompts, new Set(present.map(({ id }) => id))),
      ...countHours(table, Date.now() / 1000),
    };
  }

  listVoters(editionId: string): Promise<ReportVoter[]> {
    return this.db.select(VoterRow, VOTERS, [editionId]);
  }

  listSkips(editionId: string) {
    return this.db.select(SkipRow, SKIPS, [editionId]);
  }

  listEntrants(editionId: string) {
    return this.db.select(EntrantRow, ENTRANTS, [editionId]);
  }
}
