import { type ReportLink, WhatCounts } from "@tourney/core/contract";
import type { Database } from "../db/connection.js";
import type { ReportLinkModel } from "../db/models/report-link-model.js";
import { createToken } from "../tokens.js";

/** A link with what opens it. */
export type KeptLink = Omit<ReportLink, "url"> & { token: string };

const toLink = ({ id, editionId, token, counts, createdAt, withdrawnAt }: ReportLinkModel): KeptLink => ({
  ...{ id, editionId, token },
  counts: WhatCounts.parse(counts),
  createdAt: createdAt.toISOString(),
  withdrawnAt: withdrawnAt?.toISOString() ?? null,
});

/** Links by which somebody who is no lead reads a report. */
export class ReportLinkRepository {
  constructor(private readonly db: Database) {}

  async list(editionId: string): Promise<KeptLink[]> {
    const rows = await this.db.models.ReportLink.findAll({ where: { editionId }, order: [["createdAt", "DESC"]] });
    return rows.map(toLink);
  }

  async add(editionId: string, counts: WhatCounts): Promise<KeptLink> {
    const row = await this.db.models.ReportLink.create({ editionId, counts, token: createToken() });
    return toLink(await row.reload());
  }

  /** @returns null where there is no such link. */
  async setWithdrawn(id: string, isWithdrawn: boolean): Promise<KeptLink | null> {
    const row = await this.db.models.ReportLink.findByPk(id);
    return row && toLink(await row.update({ withdrawnAt: isWithdrawn ? new Date() : null }));
  }

  /** @returns null where no link has the token, or it was withdrawn. */
  async findOpen(token: string): Promise<KeptLink | null> {
    const row = await this.db.models.ReportLink.findOne({ where: { token, withdrawnAt: null } });
    return row && toLink(row);
  }
}
