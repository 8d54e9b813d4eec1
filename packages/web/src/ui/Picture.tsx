import type { Frame } from "@tourney/core/contract";

/** The address of a kept picture. */
export const pictureUrl = (file: string): string => `/api/blobs/${file}`;

/** The frame of a strip under a pointer at `share` 0–1 of its width. */
export function frameAt<F extends Pick<Frame, "atMs">>(frames: readonly F[], share: number): F | undefined {
  return frames[Math.min(frames.length - 1, Math.max(0, Math.floor(share * frames.length)))];
}
