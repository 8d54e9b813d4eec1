import type { Kind } from "@tourney/core/contract";
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
  RoundsRow,
  STRIP,
  StripRow,
  type Versions,
} from "./wall-queries.sql.js";

/** What the wall and the planner read. */
export class WallRepository {
  constructor(private readonly db: Database) {}

  listCells(
    editionId: string,
    { take, round, versions }: { take: number; round: number; versions: Versions },
  ): Promise<CellRow[]> {
    return this.db.select(CellRow, cellsOfTake(versions), [editionId, take, round]);
  }

  async countRounds(editionId: string): Promise<number> {
    const [row] = await this.db.select(RoundsRow, COUNT_ROUNDS, [editionId]);
    return row!.rounds;
  }

  /** @returns undefined when there is no such entry. */
  async findStrip(entryId: string, editionId: string | null) {
    const [row] = await this.db.select(StripRow, STRIP, [entryId, editionId]);
    return row && (row.frames ?? []);
  }

  listFacts(editionId: string, { kind, versions }: { kind: Kind | null; versions: Versions }): Promise<CellFacts[]> {
    return this.db.select(CellFacts, countedCells(versions), [editionId, kind]);
  }

  listFormerVersions(editionId: string) {
    return this.db.select(FormerRow, FORMER_VERSIONS, [editionId]);
  }

  listGrid(editionId: string) {
    return this.db.select(GridRow, GRID, [editionId, REPLANNABLE]);
  }
}
