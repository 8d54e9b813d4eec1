import { createHash, randomUUID } from "node:crypto";
import { mkdir, readFile, rename, rm, stat, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import { RenderJob, type RenderFinishedJob } from "@tourney/core/contract";
import { describeError, toTourneyError } from "@tourney/core/errors";
import { renderEntry } from "./recording/render-entry.js";

/** The files of entries and recordings, by the SHA-256 of their bytes; shared with the server through one folder. */
export interface Blobs {
  get: (sha256: string) => Promise<Buffer>;
  put: (bytes: Buffer) => Promise<string>;
}

export function openBlobs(folder: string): Blobs {
  const pathOf = (sha256: string) => join(folder, sha256.slice(0, 2), sha256);
  return {
    get: (sha256) => readFile(pathOf(sha256)),
    async put(bytes) {
      const sha256 = createHash("sha256").update(bytes).digest("hex");
      const path = pathOf(sha256);
      if (await stat(path).catch(() => null)) return sha256;
      await mkdir(dirname(path), { recursive: true });
      const temporary = `${path}.${randomUUID()}`;
      try {
        await writeFile(temporary, bytes);
        await rename(temporary, path);
      } catch (error) {
        // A half-written file (a full disk, say) must not stay behind.
        await rm(temporary, { force: true });
        throw error;
      }
      return sha256;
    },
  };
}

export interface RenderJobDeps {
  blobs: Blobs;
  browserPath: string | undefined;
  errors: (line: string) => void;
}

/** Records what a job names. What goes wrong on our side (no browser, a full disk) is told in the result, so that no job is lost. */
export async function handleRenderJob(
  payload: unknown,
  { blobs, browserPath, errors }: RenderJobDeps,
): Promise<RenderFinishedJob> {
  const { renderId, entryPath, files, plan } = RenderJob.parse(payload);
  try {
    const loaded = new Map<string, Buffer>();
    for (const { path, sha256 } of files) loaded.set(path, await blobs.get(sha256));
    const keep = async (webp: Buffer) => `${await blobs.put(webp)}.webp`;
    return {
      renderId,
      recording: await renderEntry(loaded, entryPath, plan, { browserPath, errors, keep }),
      error: null,
    };
  } catch (thrown) {
    const error = toTourneyError(thrown);
    errors(describeError(error));
    return { renderId, recording: null, error: `${error.message} ${error.remedy}` };
  }
}
