import { TourneyError } from "@tourney/core/errors";
import { createToken, hashToken } from "../tokens.js";
import type { AuthRepository } from "./repository.js";

const LINK_LIFETIME_MS = 24 * 3_600_000;

/** One-time sign-in links: whoever can start Tourney can make one. */
export function createAuthService(repository: AuthRepository, { appOrigin }: { appOrigin: string }) {
  return {
    /** A new link for the lead, good for one use within a day. */
    async createSignInLink(): Promise<string> {
      const token = createToken();
      await repository.addLink(hashToken(token), new Date(Date.now() + LINK_LIFETIME_MS));
      return `${appOrigin}/sign-in/${token}`;
    },
    /** @throws TourneyError NOT_ALLOWED when the link is unknown, used or too old. */
    async signIn(token: string): Promise<void> {
      if (await repository.useLink(hashToken(token))) return;
      throw new TourneyError("NOT_ALLOWED", {
        message: "This sign-in link does not work any more.",
        reason: "Each link is good for one use within a day.",
        remedy: "Make a new one with `./tourney sign-in`.",
      });
    },
  };
}
export type AuthService = ReturnType<typeof createAuthService>;
