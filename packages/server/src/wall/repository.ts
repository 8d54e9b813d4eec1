import type { Strip } from "@tourney/core/contract";
import { REPLANNABLE } from "@tourney/core/generation";
import type { Database } from "../db/connection.js";
import {
  CellFacts,
  CellRow,
  cellsOfTake,
  COUNT_ROUNDS,
  countedCells,
  FORMER_VERSIONS,
  FormerRow,
  GRID,
  GridRow,
  RoundCountRow,
  RoundRow,
  ROUNDS,
  STRIP,
  StripRow,
  type Versions,
} from "./wall-queries.sql.js";

/** What the wall and the planner read. */
export class WallRepository {
  constructor(private readonly db: Database) {}

  /** @param wordingIds null for all */
  listCells(
    editionId: string,
    { take, round, versions }: { take: number; round: number; versions: Versions },
    wordingIds: readonly string[] | null,
  ): Promise<CellRow[]> {
    return this.db.select(CellRow, cellsOfTake(versions), [editionId, take, round, wordingIds]);
  }

  /** @param wordingIds null for all */
  countRounds(editionId: string, wordingIds: readonly string[] | null): Promise<RoundCountRow[]> {
    return this.db.select(RoundCountRow, COUNT_ROUNDS, [editionId, wordingIds]);
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
    return this.db.select(CellFacts, countedCells(versions), [editionId, wordingIds, takes]);
  }

  /** @param wordingIds null for all */
  listRounds(editionId: string, wordingIds: readonly string[] | null): Promise<RoundRow[]> {
    return this.db.select(RoundRow, ROUNDS, [editionId, wordingIds]);
  }

  listFormerVersions(editionId: string) {
    return this.db.select(FormerRow, FORMER_VERSIONS, [editionId]);
  }

  listGrid(editionId: string) {
    return this.db.select(GridRow, GRID, [editionId, REPLANNABLE]);
  }
}
