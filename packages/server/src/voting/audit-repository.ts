import { AuditLine } from "@tourney/core/contract";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDate } from "../db/row.js";

export interface AuditEntry {
  actor: AuditLine["actor"];
  /** In words, as "left a voter out". */
  action: string;
  panelId?: string | null;
  voterId?: string | null;
  detail?: Record<string, unknown>;
}

/** Who did what: lines are only ever added. */
export function createAuditRepository(db: Database) {
  return {
    async add(
      { actor, action, panelId = null, voterId = null, detail = {} }: AuditEntry,
      transaction?: Transaction,
    ): Promise<void> {
      await db.execute(
        "INSERT INTO audit_trail (actor, action, panel_id, voter_id, detail) VALUES ($1, $2, $3, $4, $5::jsonb)",
        [actor, action, panelId, voterId, JSON.stringify(detail)],
        transaction,
      );
    },
    list: (editionId: string) =>
      db.select(
        z.object({ ...AuditLine.shape, id: z.coerce.number(), at: isoDate }),
        `SELECT a.id, a.at, a.actor, a.action, p.title AS "panelTitle", v.name AS "voterName", a.detail
         FROM audit_trail a LEFT JOIN voters v ON v.id = a.voter_id LEFT JOIN panels p ON p.id = coalesce(a.panel_id, v.panel_id)
         WHERE p.edition_id = $1 OR p.id IS NULL ORDER BY a.id DESC LIMIT 200`,
        [editionId],
      ),
  };
}
export type AuditRepository = ReturnType<typeof createAuditRepository>;
