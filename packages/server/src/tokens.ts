import { createHash, createHmac, hkdfSync, randomBytes, timingSafeEqual } from "node:crypto";

/** 144 random bits as 24 letters of base64url: unguessable, and short enough for an address. */
export const createToken = (): string => randomBytes(18).toString("base64url");

/** What is stored of a token that opens something, so that the database alone opens nothing. */
export const hashToken = (token: string): string => createHash("sha256").update(token).digest("hex");

/** A key for one purpose made from a secret (HKDF; Krawczyk & Eronen 2010): what is signed for one is worth nothing for another. */
export const deriveKey = (secret: string, purpose: string): string =>
  Buffer.from(hkdfSync("sha256", secret, "tourney", purpose, 32)).toString("base64url");

/** A text signed with a secret, as text.signature. */
export function signText(text: string, secret: string): string {
  return `${text}.${createHmac("sha256", secret).update(text).digest("base64url")}`;
}

/** The text of a signed text, or null when the signature is not ours. */
export function verifyText(signed: string, secret: string): string | null {
  const dot = signed.lastIndexOf(".");
  if (dot === -1) return null;
  const expected = Buffer.from(signText(signed.slice(0, dot), secret));
  const given = Buffer.from(signed);
  return expected.length === given.length && timingSafeEqual(expected, given) ? signed.slice(0, dot) : null;
}
