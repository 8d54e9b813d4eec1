import { statfs } from "node:fs/promises";
import { setTimeout as sleep } from "node:timers/promises";

/** Below this nothing new is begun: what has begun needs some, and PostgreSQL ends when it gets none. */
export const LEAST_ROOM_BYTES = 500_000_000;
const LOOK_EVERY_MS = 5000;

export interface RoomState {
  freeBytes: number;
  isLow: boolean;
}

/** The room that is left on the disk of a folder. */
export interface Room {
  read: () => Promise<RoomState>;
  /** Resolves when there is enough to begin something new, or when it is aborted. */
  untilEnough: (signal?: AbortSignal) => Promise<void>;
}

export function createRoom(
  folder: string,
  {
    leastBytes = LEAST_ROOM_BYTES,
    everyMs = LOOK_EVERY_MS,
    // What others than root may still write.
    readFree = async () => {
      const { bavail, bsize } = await statfs(folder);
      return bavail * bsize;
    },
  } = {},
): Room {
  const read = async (): Promise<RoomState> => {
    const freeBytes = await readFree();
    return { freeBytes, isLow: freeBytes < leastBytes };
  };
  return {
    read,
    async untilEnough(signal) {
      while (signal?.aborted !== true && (await read()).isLow)
        await sleep(everyMs, null, signal === undefined ? {} : { signal }).catch(() => null);
    },
  };
}
