import { deriveKey, signText, verifyText } from "../tokens.js";

const DAY_MS = 24 * 3_600_000;

/** An address expires at the end of the next day (UTC). All calls of one day give the same address, so a page that is shown does not restart. */
const expiryOf = (nowMs: number): number => (Math.floor(nowMs / DAY_MS) + 2) * DAY_MS;

/** Addresses on the exhibit origin under which the lead sees an entry live: signed, and good for a day at least. */
export interface LiveAddresses {
  addressOf: (entryId: string, entryPath: string) => string;
  /** The entry that a signed token stands for, or null when it is not ours or too old. */
  read: (token: string) => string | null;
}

export function createLiveAddresses({
  secret,
  exhibitOrigin,
}: {
  secret: string;
  exhibitOrigin: string;
}): LiveAddresses {
  const key = deriveKey(secret, "live addresses");
  return {
    addressOf(entryId, entryPath) {
      const token = signText(`${entryId}.${expiryOf(Date.now())}`, key);
      return `${exhibitOrigin}/live/${token}/${entryPath.split("/").map(encodeURIComponent).join("/")}`;
    },
    read(token) {
      const [entryId, expiry] = verifyText(token, key)?.split(".") ?? [];
      return entryId !== undefined && Number(expiry) > Date.now() ? entryId : null;
    },
  };
}
