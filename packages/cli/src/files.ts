import { readFileSync } from "node:fs";
import { TourneyError } from "@tourney/core/errors";
import { decodeText } from "@tourney/core/text-file";

export const explainUnreadable = (path: string, cause: unknown): TourneyError =>
  new TourneyError("NOT_FOUND", {
    message: `${path} cannot be read.`,
    reason: cause instanceof Error ? cause.message : String(cause),
    remedy: "Check its name and whether you may read it.",
    cause,
  });

/** @throws TourneyError NOT_FOUND that says why a file cannot be read, INVALID_FILE where it is no text. */
export function readText(path: string): string {
  let bytes: Buffer;
  try {
    bytes = readFileSync(path);
  } catch (cause) {
    throw explainUnreadable(path, cause);
  }
  return decodeText(bytes, path);
}

/**
 * @param remedy what to do about a file that is not JSON.
 * @throws TourneyError NOT_FOUND for a file that cannot be read, INVALID_FILE for one that is not JSON.
 */
export function readJson(path: string, remedy: string): unknown {
  const text = readText(path);
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new TourneyError("INVALID_FILE", {
      message: `${path} is not JSON.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy,
      cause,
    });
  }
}
