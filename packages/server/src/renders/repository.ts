import type * as z from "zod";
import type { Database } from "../db/connection.js";
import {
  COUNT_MOVING,
  COUNT_REDOABLE,
  LIST_RECORDABLE,
  Moving,
  type Only,
  Recordable,
  RECORDING,
  Redoable,
  StoredRecording,
  WorkerRow,
  WORKERS,
} from "./render-queries.sql.js";

/** Recordings: what can be made, what is being made, and what was made. */
export class RenderRepository {
  constructor(private readonly db: Database) {}

  /** The entries of a scope that can be recorded, those that are waiting for it already left out. */
  listRecordable(
    editionId: string,
    { promptId, entrantId, only }: { promptId: string | null; entrantId: string | null; only: Only },
  ): Promise<Recordable[]> {
    return this.db.select(Recordable, LIST_RECORDABLE(only), [editionId, promptId, entrantId]);
  }

  async countMoving(editionId: string): Promise<z.infer<typeof Moving>> {
    const [row] = await this.db.select(Moving, COUNT_MOVING, [editionId]);
    return row!;
  }

  async countRedoable(editionId: string): Promise<z.infer<typeof Redoable>> {
    const [row] = await this.db.select(Redoable, COUNT_REDOABLE, [editionId]);
    return row!;
  }

  listWorkers() {
    return this.db.select(WorkerRow, WORKERS);
  }

  async findRecording(renderId: string): Promise<StoredRecording | null> {
    const [row] = await this.db.select(StoredRecording, RECORDING, [renderId]);
    return row ?? null;
  }
}
