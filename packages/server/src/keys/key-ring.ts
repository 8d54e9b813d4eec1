import { TourneyError } from "@tourney/core/errors";
import type { Database } from "../db/connection.js";
import type { AuditRepository } from "../voting/audit-repository.js";
import type { KeyBinding, KeyBindingRepository } from "./binding-repository.js";

/** Reads a key by the name of its variable; null when it is not set. */
export type ReadKey = (variable: string) => string | null;

/** A key for one request, or why it is not given. */
export type TakenKey = { key: string | null } | { refused: { message: string; remedy: string } };

/** Keys, each for the host that it was first used with. */
export interface KeyRing {
  /** @param variable null for an entrant without a key */
  take: (variable: string | null, baseUrl: string) => Promise<TakenKey>;
  list: () => Promise<KeyBinding[]>;
  /** Lets a key go to another host: the next one that it is used with. @throws TourneyError NOT_FOUND */
  free: (variable: string) => Promise<void>;
}

/** Why and what to do when an entrant's key is not in the environment. */
export const KEY_MISSING = [
  "The entrant names this environment variable for its key. Only names that end in _KEY or _TOKEN are read, and those that TOURNEY_KEY_NAMES lists.",
  "Set it where Tourney is started, restart, and retry. Nothing was sent.",
] as const;

export function createKeyRing({
  readKey,
  bindings,
  audit,
  db,
}: {
  readKey: ReadKey;
  bindings: KeyBindingRepository;
  audit: AuditRepository;
  db: Database;
}): KeyRing {
  return {
    async take(variable, baseUrl) {
      if (variable === null) return { key: null };
      const key = readKey(variable);
      if (key === null)
        return { refused: { message: `${variable} is not set. ${KEY_MISSING[0]}`, remedy: KEY_MISSING[1] } };
      const { hostname } = new URL(baseUrl);
      const bound = await bindings.bind(variable, hostname);
      if (bound === hostname) return { key };
      return {
        refused: {
          message: `${variable} belongs to ${bound}, and this entrant would send it to ${hostname}.`,
          remedy: `Name another variable for the key of ${hostname}. If the key has moved there, run \`./tourney key free ${variable}\` and retry. Nothing was sent.`,
        },
      };
    },
    list: () => bindings.list(),
    async free(variable) {
      await db.transact(async (transaction) => {
        if (!(await bindings.free(variable, transaction))) {
          throw new TourneyError("NOT_FOUND", {
            message: `${variable} is bound to no host.`,
            reason: "A key is bound when it is first sent.",
            remedy: "See `./tourney key list`.",
          });
        }
        await audit.add({ actor: "lead", action: "freed a key from its host", detail: { variable } }, transaction);
      });
    },
  };
}
