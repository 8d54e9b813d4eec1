import { setImmediate } from "node:timers/promises";
import type { Contest } from "@tourney/core/contract";
import { BoutTally, nameSide, readSide } from "@tourney/core/pairing";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import {
  ANSWER_COUNT,
  AnswerCountRow,
  BallotRow,
  BOUT_COUNTS,
  BoutCountRow,
  CandidateRow,
  candidatesOf,
  COUNT_BYTES,
  OPEN_BOUTS,
  OpenBoutRow,
  PromptRow,
  VOID_LAST_BALLOT,
  VOTER,
  VoterRow,
} from "./booth-queries.sql.js";

const boutId = z.object({ boutId: z.uuid() });

/** Everything the booth needs of the database. Times out of the voter's sight stay here: an open bout is simply unanswered. */
export class BoothRepository {
  constructor(private readonly db: Database) {}

  /** Adds a voter who came by the open link; false, and a note of it on the panel, when as many as may have come from the same place. */
  async addVoter(
    panelId: string,
    tokenHash: string,
    { most, ...voter }: { name: string; sample: boolean; isLead: boolean; joinedFrom: string; most: number },
  ): Promise<boolean> {
    return this.db.transact(async (transaction) => {
      const { Panel, Voter } = this.db.models;
      // Locked: those who come at the same moment are counted one after the other.
      const panel = await Panel.findByPk(panelId, { lock: transaction.LOCK.NO_KEY_UPDATE, transaction });
      const { joinedFrom } = voter;
      if ((await Voter.count({ where: { panelId, joinedFrom }, transaction })) >= most) {
        await panel!.increment("joinsRefused", { transaction });
        return false;
      }
      await Voter.create({ panelId, tokenHash, ...voter }, { transaction });
      return true;
    });
  }

  /** How many bouts a voter has answered, and how many passed over. */
  async countAnswers(voterId: string): Promise<{ answered: number; passedOver: number }> {
    const [row] = await this.db.select(AnswerCountRow, ANSWER_COUNT, [voterId]);
    return row!;
  }

  async findVoter(panelId: string, tokenHash: string, transaction?: Transaction): Promise<VoterRow | null> {
    const [row] = await this.db.select(VoterRow, VOTER, [panelId, tokenHash], transaction);
    return row ?? null;
  }

  /** Serialises one voter's take-backs until the transaction ends. */
  async lockVoter(voterId: string, transaction: Transaction): Promise<void> {
    const lock = transaction.LOCK.NO_KEY_UPDATE;
    await this.db.models.Voter.findByPk(voterId, { attributes: ["id"], lock, transaction });
  }

  async listCandidates(panelId: string, contest: Contest, wordingIds: readonly string[] | null) {
    const rows = await this.db.select(CandidateRow, candidatesOf(contest), [panelId, wordingIds]);
    return rows.map(({ versionId, form, ...row }) => ({ ...row, competitorId: nameSide(versionId, form) }));
  }

  /** Prompts of an edition, which never change. */
  async listPrompts(editionId: string) {
    const rows = await this.db.models.Prompt.findAll({ where: { editionId }, attributes: ["id", "content"] });
    return rows.map((row) => PromptRow.parse(row.get({ plain: true })));
  }

  /** Bouts of a panel that wait for an answer. */
  listOpenBouts(panelId: string) {
    return this.db.select(OpenBoutRow, OPEN_BOUTS, [panelId]);
  }

  /** How often what was put before anybody in a panel, of some sides by their names. In pieces, since it may be much. */
  async countBouts(panelId: string, sides: readonly string[]): Promise<BoutTally> {
    const parts = sides.map(readSide);
    const bind = [panelId, parts.map(({ versionId }) => versionId), parts.map(({ form }) => form)];
    const tally = new BoutTally();
    for (const { promptId, bytes } of await this.db.select(BoutCountRow, BOUT_COUNTS, bind)) {
      for (let at = 0; at < bytes.length; at += COUNT_BYTES)
        tally.add(
          promptId,
          sides[bytes.readInt16BE(at)]!,
          sides[bytes.readInt16BE(at + 2)]!,
          bytes.readInt32BE(at + 4),
        );
      await setImmediate();
    }
    return tally;
  }

  /** Passes a bout over; false when it has a ballot, or was passed over before. */
  async skipBout(id: string, reason: string, transaction: Transaction): Promise<boolean> {
    const { Ballot, Bout } = this.db.models;
    // Locked first: a ballot cast at the same moment is stored before it or not at all.
    const bout = await Bout.findByPk(id, { lock: true, transaction });
    const isAnswered = (await Ballot.count({ where: { boutId: id, voidedAt: null }, transaction })) > 0;
    if (bout === null || bout.skippedAt !== null || isAnswered) return false;
    await bout.update({ skippedAt: new Date(), skipReason: reason }, { transaction });
    return true;
  }

  async findBallot(ofBout: string): Promise<BallotRow | null> {
    const row = await this.db.models.Ballot.findOne({ where: { boutId: ofBout, voidedAt: null } });
    return row && BallotRow.parse(row.get({ plain: true }));
  }

  /** Voids the voter's newest ballot, which opens its bout again; the bout's id, or null when there is none. */
  async voidLastBallot(voterId: string, transaction: Transaction): Promise<string | null> {
    const [voided] = await this.db.select(boutId, VOID_LAST_BALLOT, [voterId], transaction);
    if (!voided) return null;
    await this.db.models.Bout.update({ issuedAt: new Date() }, { where: { id: voided.boutId }, transaction });
    return voided.boutId;
  }
}
