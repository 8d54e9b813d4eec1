import { createHmac } from "node:crypto";

const LENGTH = 10;

/** Names for people that go out in place of theirs: the same in every export of this Tourney, and not to be traced back without its secret. */
export const createPseudonyms =
  (what: string, secret: string) =>
  (id: string): string =>
    `${what}-${createHmac("sha256", secret).update(`pseudonym ${id}`).digest("hex").slice(0, LENGTH)}`;
