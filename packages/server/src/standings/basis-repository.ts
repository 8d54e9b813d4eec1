import { EVERYTHING, type WhatCounts } from "@tourney/core/contract";
import { makeNumbers, type Numbers } from "@tourney/core/ratings";
import { type BasisInColumns, MARKS } from "@tourney/core/standings";
import { readPages } from "@tourney/core/what-counts";
import type * as z from "zod";
import { readLean, signReader } from "../ballots/ballot-queries.sql.js";
import type { BallotTable } from "../ballots/ballot-table.js";
import type { HeldBallots } from "../ballots/held-ballots.js";
import type { Stamps } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import type { Database } from "../db/connection.js";
import {
  BASIS_PANELS,
  BASIS_PROMPTS,
  BASIS_VOTERS,
  BasisPanel,
  BasisPrompt,
  BasisVoter,
  BROKEN_ENTRIES,
  BrokenEntry,
  OTHER_PAGES,
  OtherPages,
} from "./basis-queries.sql.js";

type Ballots = BasisInColumns["ballots"];
type Broken = z.infer<typeof BrokenEntry>;

/** Reads the ballots that standings are made of, one by one and not yet counted. */
export class BasisRepository {
  private readonly broken = new Kept<Broken[]>(null);

  constructor(
    private readonly db: Database,
    private readonly ballots: HeldBallots,
  ) {}

  /** From now on holds which pages are broken until a cell changes. */
  follow(ofCells: Stamps): void {
    this.broken.follow(ofCells);
  }

  /** Competitors are numbered in the order of the versions; ballots have their ids where they are asked for, and come in the order in which they were cast. They are those between entrants, or those on other pages. */
  async read(
    editionId: string,
    versionIds: readonly string[],
    { withIds = false, pages = EVERYTHING.pages }: { withIds?: boolean; pages?: WhatCounts["pages"] } = {},
  ): Promise<
    Pick<BasisInColumns, "prompts" | "panels" | "voters" | "ballots" | "otherPages"> & { ballotIds: string[] }
  > {
    const { contest, step } = readPages({ pages });
    const [prompts, broken, table] = await Promise.all([
      this.db.select(BasisPrompt, BASIS_PROMPTS, [editionId]),
      this.broken.get(editionId, () => this.db.select(BrokenEntry, BROKEN_ENTRIES, [editionId])),
      withIds ? this.ballots.readWithIds(editionId) : this.ballots.read(editionId),
    ]);
    const voters = await this.db.select(BasisVoter, BASIS_VOTERS, [table.voterIds, contest, step]);
    const others = await this.db.select(OtherPages, OTHER_PAGES, [prompts.map(({ wordingId }) => wordingId)]);
    const panelIds = [...new Set(voters.map(({ panelId }) => panelId))];
    const panels = await this.db.select(BasisPanel, BASIS_PANELS, [panelIds]);
    const panelNumber = new Map(panels.map(({ id }, index) => [id, index]));
    return {
      prompts: prompts.map(({ wordingId: _, ...prompt }) => prompt),
      voters: voters.map(({ panelId, ...voter }) => ({ ...voter, panel: panelNumber.get(panelId)! })),
      panels,
      otherPages: others.map((row) => row.pages),
      ...chooseBallots(table, { voterIds: voters.map(({ id }) => id), versionIds, broken }),
    };
  }
}

const [readLeftWorks, readRightWorks] = [signReader("leftWorks"), signReader("rightWorks")];
const readIsAutomatic = signReader("isAutomatic");

/** The ballots of these voters between these versions, each numbered as it stands in its list. */
function chooseBallots(
  { voterIds, wordingIds, entries, ids, columns }: BallotTable,
  chosen: { voterIds: readonly string[]; versionIds: readonly string[]; broken: readonly Broken[] },
): { ballots: Ballots; ballotIds: string[] } {
  const voterOf = numberBy(voterIds, chosen.voterIds);
  const versionOf = numberBy(
    entries.map(({ versionId }) => versionId),
    chosen.versionIds,
  );
  const hasPage = new Map(chosen.broken.map((entry) => [entry.id, entry.hasPage]));
  const marksOf = (showsNothing: number, hasNone: number) =>
    Uint8Array.from(entries, ({ id }) => (hasPage.has(id) ? (hasPage.get(id) === true ? showsNothing : hasNone) : 0));
  const leftMarks = marksOf(MARKS.leftShowsNothing, MARKS.leftHasNoPage);
  const rightMarks = marksOf(MARKS.rightShowsNothing, MARKS.rightHasNoPage);
  const most = columns.at.length;
  const versions = chosen.versionIds.length;
  const ballots = {
    prompt: makeNumbers(most, wordingIds.length),
    voter: makeNumbers(most, chosen.voterIds.length),
    ...{ left: makeNumbers(most, versions), right: makeNumbers(most, versions) },
    ...{ lean: new Int8Array(most), at: new Int32Array(most), marks: new Uint8Array(most) },
  };
  const ballotIds: string[] = [];
  let n = 0;
  for (let b = 0; b < most; b++) {
    const [left, right, signs] = [columns.left[b]!, columns.right[b]!, columns.signs[b]!];
    const voter = voterOf[columns.voter[b]!]!;
    if (voter < 0 || versionOf[left]! < 0 || versionOf[right]! < 0) continue;
    ballots.prompt[n] = columns.prompt[b]!;
    ballots.voter[n] = voter;
    ballots.left[n] = versionOf[left]!;
    ballots.right[n] = versionOf[right]!;
    ballots.at[n] = columns.at[b]!;
    ballots.lean[n] = readLean(signs);
    ballots.marks[n] =
      leftMarks[left]! +
      rightMarks[right]! +
      readLeftWorks(signs) * MARKS.leftWorks +
      readRightWorks(signs) * MARKS.rightWorks +
      readIsAutomatic(signs) * MARKS.isUnseen;
    n++;
    if (ids.length > 0) ballotIds.push(ids[b]!);
  }
  return { ballots: cutColumns(ballots, n), ballotIds };
}

const cutColumns = (columns: Record<keyof Ballots, Numbers | Int8Array>, length: number): Ballots => ({
  ...{ prompt: columns.prompt.subarray(0, length), voter: columns.voter.subarray(0, length) },
  ...{ left: columns.left.subarray(0, length), right: columns.right.subarray(0, length) },
  ...{ lean: columns.lean.subarray(0, length), at: columns.at.subarray(0, length) },
  marks: columns.marks.subarray(0, length),
});

/** Of each id the place that it has in a list, −1 for none. */
function numberBy(ids: readonly string[], list: readonly string[]): Int32Array {
  const places = new Map(list.map((id, place) => [id, place]));
  return Int32Array.from(ids, (id) => places.get(id) ?? -1);
}
