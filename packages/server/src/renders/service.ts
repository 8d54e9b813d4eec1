import type { RenderQueue, RenderScope } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { BlobStore } from "@tourney/store";
import type { Stamps } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import type { ExtractDeps } from "../entries/extract-job.js";
import { queueRender } from "../entries/extract-job.js";
import { makeClip, makeStrip } from "./exports.js";
import type { StoredRecording } from "./render-queries.sql.js";
import type { RenderRepository } from "./repository.js";

export interface RenderFile {
  name: string;
  bytes: Buffer;
}

/** The server looks through all recordings of an edition for at most an eighth of the time. */
const SPARING = 8;

export function createRenderService({
  renders,
  blobs,
  ...deps
}: Pick<ExtractDeps, "db" | "entries" | "addJob"> & { renders: RenderRepository; blobs: BlobStore }) {
  const redoable = new Kept<{ stale: number; failed: number }>(null, { rests: SPARING });

  async function getRecording(renderId: string): Promise<StoredRecording> {
    const stored = await renders.findRecording(renderId);
    if (stored && stored.recording.frames.length > 0) return stored;
    throw new TourneyError("NOT_FOUND", {
      message: "There is no recording to download.",
      reason: "It is being made, could not be made, or ended before its first frame.",
      remedy: "Record the entry again, then download it.",
    });
  }
  async function readFrames({ recording }: StoredRecording): Promise<{ atMs: number; webp: Buffer }[]> {
    const frames: { atMs: number; webp: Buffer }[] = [];
    for (const { atMs, file } of recording.frames) {
      const webp = await blobs.find(file.replace(/\.webp$/, ""));
      if (webp) frames.push({ atMs, webp });
    }
    return frames;
  }
  const nameOf = ({ promptKey, entrantKey, take }: StoredRecording) => `${promptKey}-${entrantKey}-${take}`;

  return {
    /** From now on what might be recorded again is counted when cells have changed, not each time. */
    follow: (changes: Stamps) => redoable.follow(changes),
    /** Processes that record, and were heard of within half a minute. */
    async countRecorders(): Promise<number> {
      return (await renders.listWorkers()).filter(({ kind }) => kind === "render").length;
    },
    /** Queues recordings of a row, a column or all; those that are waiting already stay as they are. */
    async renderAgain({ editionId, promptId, entrantId, only }: RenderScope): Promise<{ queued: number }> {
      const found = await renders.listRecordable(editionId, {
        promptId: promptId ?? null,
        entrantId: entrantId ?? null,
        only,
      });
      await deps.db.transact(async (transaction) => {
        for (const request of found) await queueRender(request, deps, transaction);
      });
      return { queued: found.length };
    },
    async getQueue(editionId: string): Promise<RenderQueue> {
      const [workers, moving, counts] = await Promise.all([
        renders.listWorkers(),
        renders.countMoving(editionId),
        redoable.get(editionId, () => renders.countRedoable(editionId)),
      ]);
      return { workers, ...moving, ...counts };
    },
    /** The clip as one animated picture. */
    async getClip(renderId: string): Promise<RenderFile> {
      const stored = await getRecording(renderId);
      return { name: `${nameOf(stored)}.webp`, bytes: await makeClip(await readFrames(stored)) };
    },
    /** All frames in full size with the recording's own report, as one archive. */
    async getStrip(renderId: string): Promise<RenderFile> {
      const stored = await getRecording(renderId);
      return {
        name: `${nameOf(stored)}.zip`,
        bytes: await makeStrip(await readFrames(stored), stored.recording),
      };
    },
  };
}
export type RenderService = ReturnType<typeof createRenderService>;
