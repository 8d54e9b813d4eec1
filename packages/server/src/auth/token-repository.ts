import { ApiToken, type ApiTokenInput } from "@tourney/core/contract";
import { Op } from "sequelize";
import type { Database, Transaction } from "../db/connection.js";
import type { ApiTokenModel } from "../db/models/api-token-model.js";

const toApiToken = ({ id, name, scopes, createdAt, lastUsedAt, revokedAt }: ApiTokenModel): ApiToken =>
  ApiToken.parse({
    ...{ id, name, scopes, createdAt: createdAt.toISOString() },
    lastUsedAt: lastUsedAt?.toISOString() ?? null,
    revokedAt: revokedAt?.toISOString() ?? null,
  });

/** Uses closer together than this are not written down again. */
const NOTED_EVERY_MS = 60_000;

/** Tokens for scripts. */
export class TokenRepository {
  constructor(private readonly db: Database) {}

  async list(): Promise<ApiToken[]> {
    const rows = await this.db.models.ApiToken.findAll({ order: [["createdAt", "DESC"], "id"] });
    return rows.map(toApiToken);
  }

  async add(input: ApiTokenInput, tokenHash: string, transaction: Transaction): Promise<ApiToken> {
    const row = await this.db.models.ApiToken.create({ ...input, tokenHash }, { transaction });
    return toApiToken(await row.reload({ transaction }));
  }

  /** @returns null where there is no such token; one that was revoked before stays so. */
  async revoke(id: string, transaction: Transaction): Promise<ApiToken | null> {
    const row = await this.db.models.ApiToken.findByPk(id, { transaction });
    return row && toApiToken(await row.update({ revokedAt: row.revokedAt ?? new Date() }, { transaction }));
  }

  /** The token that has this hash and is not revoked; that it was used is noted, to the minute. */
  async use(tokenHash: string): Promise<ApiToken | null> {
    const { ApiToken: Tokens } = this.db.models;
    const row = await Tokens.findOne({ where: { tokenHash, revokedAt: null } });
    if (row === null) return null;
    const now = Date.now();
    if (row.lastUsedAt === null || now - row.lastUsedAt.getTime() > NOTED_EVERY_MS) {
      await Tokens.update(
        { lastUsedAt: new Date(now) },
        { where: { id: row.id, lastUsedAt: { [Op.or]: [null, { [Op.lt]: new Date(now - NOTED_EVERY_MS) }] } } },
      );
    }
    return toApiToken(row);
  }
}
