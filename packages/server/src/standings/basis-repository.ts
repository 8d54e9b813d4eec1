import { EVERYTHING, type StandingsBasis, type WhatCounts } from "@tourney/core/contract";
import { readPages } from "@tourney/core/what-counts";
import type { Database, Transaction } from "../db/connection.js";
import {
  ALL_MARKS,
  BALLOT_BYTES,
  BASIS_BALLOTS,
  BASIS_PANELS,
  BASIS_PROMPTS,
  BASIS_VOTERS,
  BasisBallots,
  BasisPanel,
  BasisPrompt,
  BasisVoter,
  BROKEN_ENTRIES,
  OTHER_PAGES,
  OtherPages,
  BrokenEntry,
} from "./basis-queries.sql.js";

/** The ballots of so many prompts are sent at a time. */
const PROMPTS_AT_ONCE = 50;

type Ballots = StandingsBasis["ballots"];

/** Reads the ballots that standings are made of, one by one and not yet counted. */
export class BasisRepository {
  constructor(private readonly db: Database) {}

  /** As they are at one moment. Competitors are numbered in the order of the versions; ballots have their ids where they are asked for. They are those between entrants, or those on other pages. */
  read(
    editionId: string,
    versionIds: readonly string[],
    { withIds = false, pages = EVERYTHING.pages }: { withIds?: boolean; pages?: WhatCounts["pages"] } = {},
  ): Promise<
    Pick<StandingsBasis, "prompts" | "panels" | "voters" | "ballots" | "otherPages"> & { ballotIds: string[] }
  > {
    const { contest, step } = readPages({ pages });
    return this.db.transact(async (transaction) => {
      await this.db.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ", [], transaction);
      const prompts = await this.db.select(BasisPrompt, BASIS_PROMPTS, [editionId], transaction);
      const wordingIds = prompts.map(({ wordingId }) => wordingId);
      const voters = await this.db.select(BasisVoter, BASIS_VOTERS, [wordingIds, contest, step], transaction);
      const others = await this.db.select(OtherPages, OTHER_PAGES, [wordingIds], transaction);
      const panelIds = [...new Set(voters.map(({ panelId }) => panelId))];
      const panels = await this.db.select(BasisPanel, BASIS_PANELS, [panelIds], transaction);
      const panelNumber = new Map(panels.map(({ id }, index) => [id, index]));
      const broken = await this.db.select(BrokenEntry, BROKEN_ENTRIES, [editionId], transaction);
      const entriesOf = (hasPage: boolean) => broken.flatMap((entry) => (entry.hasPage === hasPage ? [entry.id] : []));
      const lists = [voters.map(({ id }) => id), versionIds, entriesOf(true), entriesOf(false)];
      const { ballotIds, ballots } = await this.readBallots(wordingIds, { lists, withIds, transaction });
      return {
        prompts: prompts.map(({ wordingId: _, ...prompt }) => prompt),
        voters: voters.map(({ panelId, ...voter }) => ({ ...voter, panel: panelNumber.get(panelId)! })),
        panels,
        otherPages: others.map((row) => row.pages),
        ...{ ballots, ballotIds },
      };
    });
  }

  private async readBallots(
    wordingIds: readonly string[],
    {
      lists,
      withIds,
      transaction,
    }: { lists: readonly (readonly string[])[]; withIds: boolean; transaction: Transaction },
  ): Promise<{ ballots: Ballots; ballotIds: string[] }> {
    const ballots: Ballots = { prompt: [], voter: [], left: [], right: [], lean: [], at: [], marks: [] };
    const ballotIds: string[] = [];
    for (let start = 0; start < wordingIds.length; start += PROMPTS_AT_ONCE) {
      const some = wordingIds.slice(start, start + PROMPTS_AT_ONCE);
      const bind = [some, ...lists, some.map((_, index) => start + index), withIds];
      const [sent] = await this.db.select(BasisBallots, BASIS_BALLOTS, bind, transaction);
      addBallots(ballots, sent!.bytes);
      // One by one: a list as long as this cannot be handed over as arguments.
      for (const id of sent!.ids) ballotIds.push(id);
    }
    return { ballots, ballotIds };
  }
}

/** Reads what `BASIS_BALLOTS` sent. */
function addBallots({ prompt, voter, left, right, lean, at, marks }: Ballots, bytes: Buffer): void {
  for (let from = 0; from < bytes.length; from += BALLOT_BYTES) {
    prompt.push(bytes.readInt32BE(from));
    voter.push(bytes.readInt32BE(from + 4));
    left.push(bytes.readInt32BE(from + 8));
    right.push(bytes.readInt32BE(from + 12));
    at.push(Number(bytes.readBigInt64BE(from + 16)));
    const leanAndMarks = bytes.readInt16BE(from + 24);
    lean.push(Math.floor(leanAndMarks / ALL_MARKS) - 2);
    marks.push(leanAndMarks % ALL_MARKS);
  }
}
