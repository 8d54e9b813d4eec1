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

const LineRow = z.object({ ...AuditLine.shape, id: z.coerce.number(), at: isoDate });

/** The newest lines that concern edition $1 or no panel at all. */
const LINES = `
  SELECT a.id, a.at, a.actor, a.action, p.title AS "panelTitle", v.name AS "voterName", a.detail
  FROM audit_trail a LEFT JOIN voters v ON v.id = a.voter_id LEFT JOIN panels p ON p.id = coalesce(a.panel_id, v.panel_id)
  WHERE p.edition_id = $1 OR p.id IS NULL ORDER BY a.id DESC LIMIT 200`;

/** Who did what: lines are only ever added. */
export class AuditRepository {
  constructor(private readonly db: Database) {}

  async add(entry: AuditEntry, transaction?: Transaction): Promise<void> {
    await this.db.models.AuditLine.create(entry, transaction ? { transaction } : {});
  }

  list(editionId: string): Promise<AuditLine[]> {
    return this.db.select(LineRow, LINES, [editionId]);
  }
}
