import { RenderJob, type RenderFinishedJob } from "@tourney/core/contract";
import { describeError, toTourneyError, TourneyError } from "@tourney/core/errors";
import type { BlobStore, Shelf } from "@tourney/store";
import type { BrowserSource } from "./browser/browser-pool.js";
import { renderEntry } from "./recording/render-entry.js";

export interface RenderJobDeps {
  blobs: BlobStore;
  shelf: Shelf;
  browserPath: string | undefined;
  pool?: BrowserSource;
  errors: (line: string) => void;
}

/** How often a job is tried when the machine gives its browser no time; the queue waits longer each time. */
const MOST_TRIES = 5;

/**
 * Records what a job names. What goes wrong on our side (no browser, a full disk) is told in the result, so that no job is lost.
 *
 * @param tries how often it has been tried, this time included.
 * @throws TourneyError MACHINE_BUSY when it is to be tried again later.
 */
export async function handleRenderJob(
  payload: unknown,
  tries: number,
  { blobs, ...deps }: RenderJobDeps,
): Promise<RenderFinishedJob> {
  const { renderId, entryPath, files, plan } = RenderJob.parse(payload);
  try {
    const loaded = new Map<string, Buffer>();
    for (const { path, sha256 } of files) loaded.set(path, await getBlob(blobs, sha256));
    const keep = async (webp: Buffer) => `${await blobs.put(webp)}.webp`;
    return {
      renderId,
      recording: await renderEntry(loaded, entryPath, plan, { ...deps, keep }),
      error: null,
    };
  } catch (thrown) {
    const error = toTourneyError(thrown);
    if (error.code === "MACHINE_BUSY" && tries < MOST_TRIES) throw error;
    deps.errors(describeError(error));
    return { renderId, recording: null, error: `${error.message} ${error.remedy}` };
  }
}

async function getBlob(blobs: BlobStore, sha256: string): Promise<Buffer> {
  const bytes = await blobs.find(sha256);
  if (bytes !== null) return bytes;
  throw new TourneyError("NOT_FOUND", {
    message: "A file of the entry is gone.",
    reason: `There is nothing under the digest ${sha256} in the blob store.`,
    remedy: "Check that every worker sees the same blob store as the server, then record again.",
  });
}
