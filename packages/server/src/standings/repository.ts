import { Op } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import {
  CellTally,
  CELL_TALLIES,
  PromptTally,
  PROMPT_TALLIES,
  SET_ASIDE,
  SEEN,
  SeenRow,
  SourceRow,
  SOURCES,
  VoterTally,
  VOTER_TALLIES,
  WORDED_PROMPTS,
  WordedPrompt,
} from "./standings-queries.sql.js";

/** Ballots counted: what ratings are fitted to. */
export interface Tallies {
  prompt: z.infer<typeof PromptTally>[];
  voter: z.infer<typeof VoterTally>[];
  /** Of voters with several ballots on one wording. */
  cell: z.infer<typeof CellTally>[];
}

export interface Snapshot {
  editionId: string;
  methodVersion: string;
  inputDigest: string;
  ballots: number;
  ratings: object;
}

/** The counts that standings are made of, and the snapshots of what they came to. */
export class StandingsRepository {
  constructor(private readonly db: Database) {}

  /** The counts of an edition's valid ballots, as they are at one moment. */
  listTallies(editionId: string): Promise<Tallies> {
    const bind = [editionId];
    return this.db.transact(async (transaction) => {
      await this.db.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ", [], transaction);
      const prompt = await this.db.select(PromptTally, PROMPT_TALLIES, bind, transaction);
      const voter = await this.db.select(VoterTally, VOTER_TALLIES, bind, transaction);
      const cell = await this.db.select(CellTally, CELL_TALLIES, bind, transaction);
      return { prompt, voter, cell };
    });
  }

  /** The prompts of an edition, with the wordings that ballots are counted by. */
  listWordedPrompts(editionId: string): Promise<WordedPrompt[]> {
    return this.db.select(WordedPrompt, WORDED_PROMPTS, [editionId]);
  }

  /** Ballots by what their voters saw with. */
  listSeen(editionId: string) {
    return this.db.select(SeenRow, SEEN, [editionId]);
  }

  /** The panels that the ballots come from. */
  listSources(editionId: string) {
    return this.db.select(SourceRow, SOURCES, [editionId]);
  }

  /** Ballots that do not count because a take was redone or another model answered. */
  async countSetAside(editionId: string): Promise<number> {
    const [row] = await this.db.select(z.object({ n: z.int() }), SET_ASIDE, [editionId]);
    return row!.n;
  }

  /** Keeps what the ballots came to. The same input and method are kept once; of those of one minute, the last. */
  keepSnapshot(snapshot: Snapshot): Promise<void> {
    const { RatingSnapshot } = this.db.models;
    const { editionId, methodVersion } = snapshot;
    return this.db.transact(async (transaction) => {
      const thisMinute = new Date(Math.floor(Date.now() / 60_000) * 60_000);
      await RatingSnapshot.destroy({
        where: { editionId, kind: null, methodVersion, countedAt: { [Op.gte]: thisMinute } },
        transaction,
      });
      await RatingSnapshot.bulkCreate([snapshot], { ignoreDuplicates: true, transaction });
    });
  }
}
