import { createWriteStream } from "node:fs";
import { rm } from "node:fs/promises";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { TourneyError } from "@tourney/core/errors";

/** Writes a file that is not there yet; half of one is removed again. @throws TourneyError CONFLICT */
export async function writeNew(
  path: string,
  chunks: AsyncIterable<string | Buffer> | Iterable<string | Buffer>,
): Promise<void> {
  try {
    await pipeline(Readable.from(chunks), createWriteStream(path, { flags: "wx" }));
  } catch (cause) {
    // Half a file would be taken for a whole one. What was there before is not touched.
    if (!(cause instanceof Error && "code" in cause && cause.code === "EEXIST"))
      await rm(path, { force: true }).catch(() => undefined);
    throw new TourneyError("CONFLICT", {
      message: `${path} could not be written.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give the path of a file that is not there yet, in a folder that is, on a disk with room.",
      cause,
    });
  }
}
