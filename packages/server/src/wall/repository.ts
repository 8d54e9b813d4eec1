import type { Strip } from "@tourney/core/contract";
import { REPLANNABLE } from "@tourney/core/generation";
import type { Database } from "../db/connection.js";
import {
  allRounds,
  CellFacts,
  CellRow,
  cellsOfTake,
  countedCells,
  countedRounds,
  FORMER_VERSIONS,
  FormerRow,
  GRID,
  GridRow,
  type Reach,
  RoundCountRow,
  RoundRow,
  STRIP,
  StripRow,
  type Versions,
} from "./wall-queries.sql.js";

/** How far a reading of some wordings reaches, and the parameter that names them. @param wordingIds null for all */
function toReach(wordingIds: readonly string[] | null): { reach: Reach; bound: unknown[] } {
  if (wordingIds === null) return { reach: "all", bound: [] };
  const [one, ...others] = wordingIds;
  return one !== undefined && others.length === 0
    ? { reach: "one", bound: [one] }
    : { reach: "some", bound: [wordingIds] };
}

/** What the wall and the planner read. */
export class WallRepository {
  constructor(private readonly db: Database) {}

  /** @param wordingIds null for all */
  listCells(
    editionId: string,
    { take, round, versions }: { take: number; round: number; versions: Versions },
    wordingIds: readonly string[] | null,
  ): Promise<CellRow[]> {
    const { reach, bound } = toReach(wordingIds);
    return this.db.select(CellRow, cellsOfTake(versions, reach), [editionId, take, round, ...bound]);
  }

  /** @param wordingIds null for all */
  countRounds(editionId: string, wordingIds: readonly string[] | null): Promise<RoundCountRow[]> {
    const { reach, bound } = toReach(wordingIds);
    return this.db.select(RoundCountRow, countedRounds(reach), [editionId, ...bound]);
  }

  /** @returns undefined when there is no such entry. */
  async findStrip(entryId: string, editionId: string | null): Promise<Strip | undefined> {
    const [row] = await this.db.select(StripRow, STRIP, [entryId, editionId]);
    return row && { ...row, frames: row.frames ?? [] };
  }

  /** Of all takes, or of those up to a number. @param wordingIds null for all */
  listFacts(
    editionId: string,
    versions: Versions,
    { takes, wordingIds }: { takes: number | null; wordingIds: readonly string[] | null },
  ): Promise<CellFacts[]> {
    const { reach, bound } = toReach(wordingIds);
    return this.db.select(CellFacts, countedCells(versions, reach), [editionId, takes, ...bound]);
  }

  /** @param wordingIds null for all */
  listRounds(editionId: string, wordingIds: readonly string[] | null): Promise<RoundRow[]> {
    const { reach, bound } = toReach(wordingIds);
    return this.db.select(RoundRow, allRounds(reach), [editionId, ...bound]);
  }

  listFormerVersions(editionId: string) {
    return this.db.select(FormerRow, FORMER_VERSIONS, [editionId]);
  }

  listGrid(editionId: string) {
    return this.db.select(GridRow, GRID, [editionId, REPLANNABLE]);
  }
}
