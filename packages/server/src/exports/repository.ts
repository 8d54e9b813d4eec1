import type { Contest } from "@tourney/core/contract";
import type { Database } from "../db/connection.js";
import { BALLOTS_BY_ID, EXPORT_BALLOTS, ExportRow } from "./export-queries.sql.js";

/** So many ballots are held in memory at a time. */
const BATCH = 5000;

/** Reads what is exported, in pieces. */
export class ExportRepository {
  constructor(private readonly db: Database) {}

  async *streamBallots(
    editionId: string,
    { withAll, contest }: { withAll: boolean; contest: Contest },
  ): AsyncGenerator<ExportRow[]> {
    let place: string | null = null;
    for (;;) {
      const [at, id]: (string | null)[] = place?.split("_") ?? [null, null];
      const bind = [editionId, at ?? null, id ?? null, BATCH, withAll, contest];
      const rows: ExportRow[] = await this.db.select(ExportRow, EXPORT_BALLOTS, bind);
      if (rows.length > 0) yield rows;
      if (rows.length < BATCH) return;
      place = rows.at(-1)!.place;
    }
  }

  /** Ballots of an edition by their ids, the newest first within each batch. */
  async listBallots(editionId: string, ids: readonly string[]): Promise<ExportRow[]> {
    const rows: ExportRow[] = [];
    for (let start = 0; start < ids.length; start += BATCH) {
      const some = ids.slice(start, start + BATCH);
      for (const row of await this.db.select(ExportRow, BALLOTS_BY_ID, [editionId, some])) rows.push(row);
    }
    return rows;
  }
}
