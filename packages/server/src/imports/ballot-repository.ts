import { randomUUID } from "node:crypto";
import type { Database, Transaction } from "../db/connection.js";
import { createToken, hashToken } from "../tokens.js";
import { PLACES, PlaceRow } from "./import-queries.sql.js";

/** Why these bouts are there: nobody was asked in the booth. */
export const VOTED_ELSEWHERE = "voted elsewhere";
/** So many rows go into one statement. */
const BATCH = 1000;

/** A ballot with the bout that it stands for. */
export interface PlacedBallot {
  voter: string;
  left: PlaceRow;
  right: PlaceRow;
  isRepeat: boolean;
  lean: number;
  leftWorks: boolean;
  rightWorks: boolean;
  note: string;
  dwellMs: number;
  at: Date;
}

/** Writes ballots that were voted elsewhere. */
export class BallotImportRepository {
  constructor(private readonly db: Database) {}

  listPlaces(editionId: string): Promise<PlaceRow[]> {
    return this.db.select(PlaceRow, PLACES, [editionId]);
  }

  /** Whether a panel of the edition has that message, which names the file it came from. */
  async hasPanel(editionId: string, message: string): Promise<boolean> {
    return (await this.db.models.Panel.count({ where: { editionId, message } })) > 0;
  }

  /** A panel that takes no more votes, with its voters and their ballots. @returns the panel's id. */
  async add(
    {
      editionId,
      title,
      message,
      ballots,
    }: { editionId: string; title: string; message: string; ballots: readonly PlacedBallot[] },
    transaction: Transaction,
  ): Promise<string> {
    const { Panel, Voter, Bout, Ballot } = this.db.models;
    const now = new Date();
    const counts = new Map<string, number>();
    for (const { voter } of ballots) counts.set(voter, (counts.get(voter) ?? 0) + 1);
    const quota = Math.min(1000, Math.max(1, ...counts.values()));
    const panel = await Panel.create(
      { editionId, title, message, quota, token: createToken(), closesAt: now, linkClosedAt: now },
      { transaction },
    );
    const voterIds = new Map([...counts.keys()].map((name) => [name, randomUUID()]));
    await inBatches([...voterIds], (some) =>
      Voter.bulkCreate(
        some.map(([name, id]) => ({
          id,
          name,
          panelId: panel.id,
          tokenHash: hashToken(createToken()),
          revokedAt: now,
        })),
        { transaction },
      ),
    );
    const ordinals = new Map<string, number>();
    const rows = ballots.map((ballot) => {
      const ordinal = (ordinals.get(ballot.voter) ?? 0) + 1;
      ordinals.set(ballot.voter, ordinal);
      return { ...ballot, ordinal, boutId: randomUUID() };
    });
    await inBatches(rows, async (some) => {
      await Bout.bulkCreate(
        some.map(({ voter, left, right, ordinal, boutId, isRepeat, at }) => ({
          ...{ id: boutId, voterId: voterIds.get(voter)!, promptId: left.promptId, wordingId: left.wordingId },
          ...{ leftEntryId: left.entryId, rightEntryId: right.entryId },
          ...{ leftVersionId: left.versionId, rightVersionId: right.versionId },
          ...{ ordinal, isRepeat, reason: VOTED_ELSEWHERE, issuedAt: at },
          ...{ token: createToken(), leftToken: createToken(), rightToken: createToken() },
        })),
        { transaction },
      );
      await Ballot.bulkCreate(
        some.map(({ boutId, lean, leftWorks, rightWorks, note, dwellMs, at }) => ({
          ...{ boutId, lean, leftWorks, rightWorks, note, dwellMs, reasons: [], castAt: at },
        })),
        { transaction },
      );
    });
    return panel.id;
  }
}

async function inBatches<T>(items: readonly T[], write: (some: readonly T[]) => Promise<unknown>): Promise<void> {
  for (let start = 0; start < items.length; start += BATCH) await write(items.slice(start, start + BATCH));
}
