import { createWriteStream } from "node:fs";
import { join } from "node:path";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { TourneyError } from "@tourney/core/errors";
import type { Request } from "express";
import { withFolder } from "../with-folder.js";

/**
 * Keeps what a request brings in a file while it is worked on: nothing of it is held in memory.
 *
 * @param work is given its path, and a folder of its own for what it is taken apart into
 * @param most bytes
 * @throws TourneyError TOO_LARGE
 */
export async function receiveFile<T>(
  request: Request,
  { parent, most }: { parent: string; most: number },
  work: (path: string, folder: string) => Promise<T>,
): Promise<T> {
  const tooLarge = () =>
    new TourneyError("TOO_LARGE", {
      message: "The file is too large.",
      reason: `No more than ${most / 1e6} MB are taken at once.`,
      remedy: "Give it in several files. Nothing was taken.",
    });
  if (Number(request.headers["content-length"] ?? 0) > most) throw tooLarge();
  let bytes = 0;
  const count = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      done(bytes > most ? tooLarge() : null, chunk);
    },
  });
  return withFolder(parent, async (folder) => {
    const path = join(folder, "received");
    await pipeline(request, count, createWriteStream(path));
    return work(path, folder);
  });
}
