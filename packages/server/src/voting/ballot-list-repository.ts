import type { BallotFilter, BallotScope } from "@tourney/core/contract";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import {
  BallotRow,
  countByVoter,
  countChosen,
  FIND_BALLOT,
  FoundRow,
  listBallots,
  VoterTotal,
} from "./ballot-list-queries.sql.js";

const Count = z.object({ n: z.int() });

export interface Wanted {
  scope: BallotScope;
  /** These alone; null: whatever their ids. */
  ids: readonly string[] | null;
  only: BallotFilter;
  /** A ballot's place; only older ones are listed. */
  before: string | null;
  limit: number;
}

const bindScope = (editionId: string, { scope, ids }: Wanted) => {
  const { voterId, ofId, againstId, promptId, panelId, contest } = scope;
  return [
    editionId,
    voterId ?? null,
    ofId ?? null,
    againstId ?? null,
    promptId ?? null,
    panelId ?? null,
    ids,
    contest ?? null,
  ];
};

/** Ballots one by one, as the lead reads and voids them. */
export class BallotListRepository {
  constructor(private readonly db: Database) {}

  /** Without regard to ids; voters without any are left out. @param voterIds null for all */
  countByVoter(
    editionId: string,
    wanted: Omit<Wanted, "ids">,
    voterIds: readonly string[] | null,
  ): Promise<VoterTotal[]> {
    const scope = bindScope(editionId, { ...wanted, ids: null });
    return this.db.select(VoterTotal, countByVoter(wanted.only), [...scope, voterIds]);
  }

  /** How many of some ids are among them. */
  async countChosen(editionId: string, wanted: Wanted): Promise<number> {
    const [row] = await this.db.select(Count, countChosen(wanted.only), bindScope(editionId, wanted));
    return row!.n;
  }

  list(editionId: string, wanted: Wanted): Promise<BallotRow[]> {
    const [at, id] = wanted.before?.split("_") ?? [null, null];
    return this.db.select(BallotRow, listBallots(wanted.only), [...bindScope(editionId, wanted), at, id, wanted.limit]);
  }

  async find(ballotId: string): Promise<z.infer<typeof FoundRow> | null> {
    const [row] = await this.db.select(FoundRow, FIND_BALLOT, [ballotId]);
    return row ?? null;
  }

  /** False when it does not count already. */
  async void(ballotId: string, why: string, transaction: Transaction): Promise<boolean> {
    const [voided] = await this.db.models.Ballot.update(
      { voidedAt: new Date(), voidReason: why, voidedBy: "lead" },
      { where: { id: ballotId, voidedAt: null }, transaction },
    );
    return voided === 1;
  }

  /** False when the lead has not voided it. */
  async restore(ballotId: string, transaction: Transaction): Promise<boolean> {
    const [restored] = await this.db.models.Ballot.update(
      { voidedAt: null, voidReason: null, voidedBy: null },
      { where: { id: ballotId, voidedBy: "lead" }, transaction },
    );
    return restored === 1;
  }
}
