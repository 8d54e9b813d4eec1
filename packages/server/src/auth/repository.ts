import { Op } from "sequelize";
import type { Database } from "../db/connection.js";

/** One-time sign-in links. */
export class AuthRepository {
  constructor(private readonly db: Database) {}

  async addLink(tokenHash: string, expiresAt: Date): Promise<void> {
    await this.db.models.SignInLink.create({ tokenHash, expiresAt });
  }

  /** Marks the link used; false when there is none, it was used, or it has expired. */
  async useLink(tokenHash: string): Promise<boolean> {
    const now = new Date();
    const [used] = await this.db.models.SignInLink.update(
      { usedAt: now },
      { where: { tokenHash, usedAt: null, expiresAt: { [Op.gt]: now } } },
    );
    return used === 1;
  }
}
