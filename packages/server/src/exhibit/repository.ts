import * as z from "zod";
import type { Database } from "../db/connection.js";

export function createExhibitRepository(db: Database) {
  return {
    /** The entry that a stage's token stands for, or null. */
    findByStageToken: async (token: string): Promise<string | null> => {
      const [row] = await db.select(
        z.object({ entryId: z.uuid() }),
        `SELECT left_entry_id AS "entryId" FROM bouts WHERE left_token = $1
         UNION ALL SELECT right_entry_id FROM bouts WHERE right_token = $1`,
        [token],
      );
      return row?.entryId ?? null;
    },
  };
}
