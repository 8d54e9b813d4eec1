import type { PanelChange, PanelInput } from "@tourney/core/contract";
import type { Database, Transaction } from "../db/connection.js";
import { BOOTH_PANEL, BoothPanel, PanelRow, SELECT_PANELS } from "./panel-queries.sql.js";

/** The columns that a panel's settings fill. */
const toColumns = ({ closesAt, ...change }: PanelChange) => ({
  ...change,
  closesAt: closesAt === null ? null : new Date(closesAt),
});

/** Panels, their voters, and the entries that the lead keeps from voters. */
export class PanelRepository {
  constructor(private readonly db: Database) {}

  async find(id: string, transaction?: Transaction): Promise<PanelRow | null> {
    const [row] = await this.db.select(PanelRow, `${SELECT_PANELS} WHERE p.id = $1`, [id], transaction);
    return row ?? null;
  }

  async findForBooth(token: string): Promise<BoothPanel | null> {
    const [row] = await this.db.select(BoothPanel, BOOTH_PANEL, [token]);
    return row ?? null;
  }

  list(editionId: string): Promise<PanelRow[]> {
    return this.db.select(PanelRow, `${SELECT_PANELS} WHERE p.edition_id = $1 ORDER BY p.created_at`, [editionId]);
  }

  async add({ editionId, ...change }: PanelInput, token: string, sample: boolean): Promise<PanelRow> {
    const { id } = await this.db.models.Panel.create({ editionId, token, sample, ...toColumns(change) });
    return (await this.find(id))!;
  }

  /** False when there is no such panel. */
  async change(id: string, change: PanelChange, transaction: Transaction): Promise<boolean> {
    const [changed] = await this.db.models.Panel.update(toColumns(change), { where: { id }, transaction });
    return changed === 1;
  }

  async setLinkOpen(id: string, open: boolean, transaction: Transaction): Promise<boolean> {
    const linkClosedAt = open ? null : new Date();
    const [changed] = await this.db.models.Panel.update({ linkClosedAt }, { where: { id }, transaction });
    return changed === 1;
  }

  async addInvited(
    panelId: string,
    { name, token, tokenHash }: { name: string; token: string; tokenHash: string },
    transaction: Transaction,
  ): Promise<void> {
    await this.db.models.Voter.create({ panelId, name, personalToken: token, tokenHash }, { transaction });
  }

  /** Resolves with the panel of the voter, or null when there is no such voter. */
  async setVoter(
    voterId: string,
    change: { revoked: boolean } | { leftOut: string | null },
    transaction: Transaction,
  ): Promise<string | null> {
    const voter = await this.db.models.Voter.findByPk(voterId, { lock: true, transaction });
    if (voter === null) return null;
    if ("revoked" in change) voter.revokedAt = change.revoked ? new Date() : null;
    else {
      voter.leftOutAt = change.leftOut === null ? null : (voter.leftOutAt ?? new Date());
      voter.leftOutWhy = change.leftOut;
    }
    await voter.save({ transaction });
    return voter.panelId;
  }

  /** Keeps an entry from voters, or with null shows it again. */
  async setEntry(entryId: string, leftOut: string | null, transaction: Transaction): Promise<void> {
    const { BoothExclusion } = this.db.models;
    if (leftOut === null) await BoothExclusion.destroy({ where: { entryId }, transaction });
    else await BoothExclusion.upsert({ entryId, why: leftOut }, { transaction });
  }
}
