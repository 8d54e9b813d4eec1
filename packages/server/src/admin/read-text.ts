import { readFile, stat } from "node:fs/promises";
import { MOST_YAML_LENGTH, YAML_TOO_LONG } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { decodeText } from "@tourney/core/text-file";

/** A character takes up to four bytes, so what is longer holds too many of them. */
const MOST_FILE_BYTES = MOST_YAML_LENGTH * 4;

/** The text of a suite or entrants file. @throws TourneyError NOT_FOUND, TOO_LARGE */
export async function readText(path: string): Promise<string> {
  try {
    const { size } = await stat(path);
    if (size <= MOST_FILE_BYTES) return decodeText(await readFile(path), path);
  } catch (cause) {
    if (cause instanceof TourneyError) throw cause;
    throw new TourneyError("NOT_FOUND", {
      message: `${path} cannot be read.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give the path of a file that is there.",
      cause,
    });
  }
  throw new TourneyError("TOO_LARGE", {
    message: `${path} ${YAML_TOO_LONG}.`,
    reason: "It is not read at all, since reading takes many times its length in memory.",
    remedy: "Check that it is the file you mean. Nothing was changed.",
  });
}
