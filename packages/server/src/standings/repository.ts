import { Op } from "sequelize";
import * as z from "zod";
import type { SeenBallots } from "@tourney/core/standings";
import type { HeldBallots } from "../ballots/held-ballots.js";
import type { Database } from "../db/connection.js";
import { countSeen } from "./count-seen.js";
import {
  LEFT_OUT,
  LeftOut,
  PanelRow,
  PANELS,
  SET_ASIDE,
  THIN_SNAPSHOTS,
  WORDED_PROMPTS,
  WordedPrompt,
} from "./standings-queries.sql.js";

export interface Snapshot {
  editionId: string;
  methodVersion: string;
  inputDigest: string;
  ballots: number;
  ratings: object;
}

/** The counts that standings are made of, and the snapshots of what they came to. */
export class StandingsRepository {
  constructor(
    private readonly db: Database,
    private readonly ballots: HeldBallots,
  ) {}

  /** The prompts of an edition, with the wordings that ballots are counted by. */
  listWordedPrompts(editionId: string): Promise<WordedPrompt[]> {
    return this.db.select(WordedPrompt, WORDED_PROMPTS, [editionId]);
  }

  /** Ballots between entrants by what their voters saw with, without those of voters whom the lead has left out. Competitors are numbered in the order of the versions. */
  async listSeen(editionId: string, versionIds: readonly string[]): Promise<SeenBallots[]> {
    const table = await this.ballots.read(editionId);
    const leftOut = await this.db.select(LeftOut, LEFT_OUT, [table.voterIds]);
    return countSeen(table, { versionIds, leftOut: new Set(leftOut.map(({ id }) => id)) });
  }

  /** The panels whose ballots may count for the wordings of an edition: those of its suite. */
  listPanels(editionId: string) {
    return this.db.select(PanelRow, PANELS, [editionId]);
  }

  /** Ballots that do not count because a take was redone or another model answered. */
  async countSetAside(editionId: string): Promise<number> {
    const [row] = await this.db.select(z.object({ n: z.int() }), SET_ASIDE, [editionId]);
    return row!.n;
  }

  /** Keeps what the ballots came to. The same input and method are kept once; of those of one minute, the last, and of those of one hour a day later. */
  keepSnapshot(snapshot: Snapshot): Promise<void> {
    const { RatingSnapshot } = this.db.models;
    const { editionId, methodVersion } = snapshot;
    return this.db.transact(async (transaction) => {
      await this.db.execute(THIN_SNAPSHOTS, [editionId, methodVersion], transaction);
      const thisMinute = new Date(Math.floor(Date.now() / 60_000) * 60_000);
      await RatingSnapshot.destroy({
        where: { editionId, kind: null, methodVersion, countedAt: { [Op.gte]: thisMinute } },
        transaction,
      });
      await RatingSnapshot.bulkCreate([snapshot], { ignoreDuplicates: true, transaction });
    });
  }
}
