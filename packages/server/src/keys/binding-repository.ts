import type { Database, Transaction } from "../db/connection.js";

export interface KeyBinding {
  variable: string;
  host: string;
  boundAt: Date;
}

/** Which host each key goes to. */
export class KeyBindingRepository {
  constructor(private readonly db: Database) {}

  /** Binds a key to a host unless it is bound. @returns the host that it is bound to */
  async bind(variable: string, host: string): Promise<string> {
    const { KeyBinding } = this.db.models;
    await KeyBinding.bulkCreate([{ variable, host }], { ignoreDuplicates: true });
    return (await KeyBinding.findByPk(variable))?.host ?? host;
  }

  async list(): Promise<KeyBinding[]> {
    const rows = await this.db.models.KeyBinding.findAll({ order: ["variable"] });
    return rows.map(({ variable, host, boundAt }) => ({ variable, host, boundAt }));
  }

  /** @returns whether it was bound */
  async free(variable: string, transaction: Transaction): Promise<boolean> {
    return (await this.db.models.KeyBinding.destroy({ where: { variable }, transaction })) > 0;
  }
}
