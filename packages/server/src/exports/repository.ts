import type { Database } from "../db/connection.js";
import { EXPORT_BALLOTS, ExportRow } from "./export-queries.sql.js";

/** So many ballots are held in memory at a time. */
const BATCH = 5000;

/** Reads what is exported, in pieces. */
export class ExportRepository {
  constructor(private readonly db: Database) {}

  async *streamBallots(editionId: string, { withAll }: { withAll: boolean }): AsyncGenerator<ExportRow[]> {
    let place: string | null = null;
    for (;;) {
      const [at, id]: (string | null)[] = place?.split("_") ?? [null, null];
      const bind = [editionId, at ?? null, id ?? null, BATCH, withAll];
      const rows: ExportRow[] = await this.db.select(ExportRow, EXPORT_BALLOTS, bind);
      if (rows.length > 0) yield rows;
      if (rows.length < BATCH) return;
      place = rows.at(-1)!.place;
    }
  }
}
