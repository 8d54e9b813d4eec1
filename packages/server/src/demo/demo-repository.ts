import type * as z from "zod";
import type { Database } from "../db/connection.js";
import { RECORDED_SIDES, RecordedSide, RowProgress, ROWS, SAMPLE_RUN, SampleRun } from "./demo-queries.sql.js";

/** Reads how far the sample run is, and what its recordings show. */
export class DemoRepository {
  constructor(private readonly db: Database) {}

  async findSampleRun(): Promise<z.infer<typeof SampleRun> | null> {
    const [row] = await this.db.select(SampleRun, SAMPLE_RUN);
    return row ?? null;
  }

  listRows(runId: string): Promise<RowProgress[]> {
    return this.db.select(RowProgress, ROWS, [runId]);
  }

  /** The recordings of both sides of a bout; fewer than two where one was taken out of the wall meanwhile. */
  listSides(boutToken: string): Promise<RecordedSide[]> {
    return this.db.select(RecordedSide, RECORDED_SIDES, [boutToken]);
  }
}
