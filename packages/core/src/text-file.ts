import { TourneyError } from "./errors.js";

/** Browsers and Node have it alike; this part of the program knows the globals of neither. */
declare const TextDecoder: new (
  encoding: string,
  options?: { fatal?: boolean },
) => { decode: (bytes: Uint8Array, options?: { stream?: boolean }) => string };

/** The text of ASCII codes: some forty times as fast as from characters one by one. */
export const decodeAscii = (codes: Uint8Array): string => new TextDecoder("utf-8").decode(codes);

/** Text before what cannot be read, for finding the place. */
const CONTEXT_BYTES = 24;

/**
 * The text of a file: UTF-8 with or without a byte order mark, or UTF-16 with one. Nothing is replaced: what is frozen with a wrong letter in
 * it stays wrong.
 *
 * @param name what the file is called, for the error.
 * @throws TourneyError INVALID_FILE that names the line of the first byte that is no text in that encoding.
 */
export function decodeText(bytes: Uint8Array, name: string): string {
  const utf16 =
    bytes[0] === 0xff && bytes[1] === 0xfe ? "utf-16le" : bytes[0] === 0xfe && bytes[1] === 0xff ? "utf-16be" : null;
  const encoding = utf16 ?? "utf-8";
  try {
    return new TextDecoder(encoding, { fatal: true }).decode(bytes);
  } catch {
    throw notText(bytes, encoding, name);
  }
}

function notText(bytes: Uint8Array, encoding: string, name: string): TourneyError {
  const at = findWrong(bytes, encoding);
  const before = new TextDecoder(encoding).decode(bytes.subarray(0, at));
  const line = before.split("\n").length;
  const near = before.slice(-CONTEXT_BYTES).split("\n").at(-1)!;
  const byte = bytes[at] === undefined ? "its end" : `byte 0x${bytes[at].toString(16).toUpperCase().padStart(2, "0")}`;
  return new TourneyError("INVALID_FILE", {
    message: `${name} is not UTF-8 text: line ${line}${near === "" ? "" : `, after “${near}”`}, has ${byte}.`,
    reason: "It was saved in another encoding, as Latin-1 or Windows-1252; letters beyond ASCII would be lost.",
    remedy: "Save it as UTF-8 and give it again. Nothing was changed.",
  });
}

/** The first byte that cannot be read, found by halving: what begins well is well as far as that goes. */
function findWrong(bytes: Uint8Array, encoding: string): number {
  let [good, bad] = [0, bytes.length];
  while (good < bad) {
    const middle = (good + bad + 1) >> 1;
    if (canRead(bytes.subarray(0, middle), encoding, true)) good = middle;
    else bad = middle - 1;
  }
  // The letter that goes wrong may have begun before.
  while (good > 0 && !canRead(bytes.subarray(0, good), encoding, false)) good--;
  return good;
}

/** @param isBegun whether the last letter may be one that has only begun. */
function canRead(bytes: Uint8Array, encoding: string, isBegun: boolean): boolean {
  try {
    new TextDecoder(encoding, { fatal: true }).decode(bytes, { stream: isBegun });
    return true;
  } catch {
    return false;
  }
}
