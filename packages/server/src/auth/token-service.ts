import type { ApiToken, ApiTokenInput } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { Database } from "../db/connection.js";
import { createToken, hashToken } from "../tokens.js";
import type { AuditRepository } from "../voting/audit-repository.js";
import type { TokenRepository } from "./token-repository.js";

/** What tokens begin with, so that one that leaked is known for what it is. */
const PREFIX = "tourney_";

/** Lets scripts call the API in the lead's place. */
export function createTokenService({
  db,
  tokens,
  audit,
}: {
  db: Database;
  tokens: TokenRepository;
  audit: AuditRepository;
}) {
  return {
    list: () => tokens.list(),
    /** Makes a token. It cannot be read again: the database has its hash. */
    add: (input: ApiTokenInput): Promise<{ token: string; made: ApiToken }> =>
      db.transact(async (transaction) => {
        const token = `${PREFIX}${createToken()}`;
        const made = await tokens.add(input, hashToken(token), transaction);
        await audit.add({ actor: "lead", action: "made a token for scripts", detail: { ...input } }, transaction);
        return { token, made };
      }),
    /** @throws TourneyError NOT_FOUND */
    revoke: (id: string): Promise<ApiToken> =>
      db.transact(async (transaction) => {
        const revoked = await tokens.revoke(id, transaction);
        if (revoked === null) throw NO_SUCH_TOKEN();
        const detail = { name: revoked.name };
        await audit.add({ actor: "lead", action: "revoked a token for scripts", detail }, transaction);
        return revoked;
      }),
    /** @throws TourneyError NOT_SIGNED_IN for one that is unknown or was revoked */
    async use(token: string): Promise<ApiToken> {
      const found = token.startsWith(PREFIX) ? await tokens.use(hashToken(token)) : null;
      if (found !== null) return found;
      throw new TourneyError("NOT_SIGNED_IN", {
        message: "This token opens nothing.",
        reason: "It is unknown here, or was revoked.",
        remedy: "Make one with `./tourney token add NAME --scope read`, and send it as `Authorization: Bearer TOKEN`.",
      });
    },
  };
}
export type TokenService = ReturnType<typeof createTokenService>;

const NO_SUCH_TOKEN = () =>
  new TourneyError("NOT_FOUND", {
    message: "There is no such token.",
    reason: "It may belong to another Tourney.",
    remedy: "List those there are with `./tourney token list`.",
  });
