import { StandingsView, type WhatCounts } from "@tourney/core/contract";
import type { Database } from "../db/connection.js";
import type { StandingsViewModel } from "../db/models/standings-view-model.js";

const toView = ({ id, name, counts, createdAt }: StandingsViewModel): StandingsView =>
  StandingsView.parse({ id, name, counts, createdAt: createdAt.toISOString() });

/** Names for choices of what counts. */
export class ViewRepository {
  constructor(private readonly db: Database) {}

  async list(editionId: string): Promise<StandingsView[]> {
    const suiteId = await this.findSuiteId(editionId);
    const rows = await this.db.models.StandingsView.findAll({ where: { suiteId }, order: [["name", "ASC"]] });
    return rows.map(toView);
  }

  /** @returns null where the suite has a view of that name. */
  async keep(editionId: string, { name, counts }: { name: string; counts: WhatCounts }): Promise<StandingsView | null> {
    const suiteId = await this.findSuiteId(editionId);
    const { StandingsView: Views } = this.db.models;
    const [row] = await Views.bulkCreate([{ suiteId, name, counts }], { ignoreDuplicates: true, returning: true });
    const kept = await Views.findOne({ where: { suiteId, name } });
    return kept !== null && kept.id === row?.id ? toView(kept) : null;
  }

  async remove(id: string): Promise<boolean> {
    return (await this.db.models.StandingsView.destroy({ where: { id } })) > 0;
  }

  private async findSuiteId(editionId: string): Promise<string> {
    const edition = await this.db.models.Edition.findByPk(editionId, { rejectOnEmpty: true });
    return edition.suiteId;
  }
}
