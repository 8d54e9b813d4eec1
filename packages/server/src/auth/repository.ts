import type { Database } from "../db/connection.js";

export interface AuthRepository {
  addLink: (tokenHash: string, expiresAt: Date) => Promise<void>;
  /** Marks the link used; false when there is none, it was used, or it has expired. */
  useLink: (tokenHash: string) => Promise<boolean>;
}

export function createAuthRepository(db: Database): AuthRepository {
  return {
    async addLink(tokenHash, expiresAt) {
      await db.execute("INSERT INTO sign_in_links (token_hash, expires_at) VALUES ($1, $2)", [tokenHash, expiresAt]);
    },
    async useLink(tokenHash) {
      const used = await db.execute(
        "UPDATE sign_in_links SET used_at = now() WHERE token_hash = $1 AND used_at IS NULL AND expires_at > now()",
        [tokenHash],
      );
      return used === 1;
    },
  };
}
