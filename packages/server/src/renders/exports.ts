import { buffer } from "node:stream/consumers";
import type { Recording } from "@tourney/core/contract";
import sharp from "sharp";
import { ZipFile } from "yazl";

const CLIP_WIDTH_PX = 640;
/** The last frame is shown for a while before the clip begins again. */
const LAST_FRAME_MS = 1000;

interface StoredFrame {
  atMs: number;
  webp: Buffer;
}

/** An animated WebP of the frames, 640 px wide, each shown until the next one's time. */
export async function makeClip(frames: readonly StoredFrame[]): Promise<Buffer> {
  // Frames of a page whose window changed its size are fitted into the first one's.
  const { width, height } = await sharp(frames[0]!.webp).metadata();
  const size = { width: CLIP_WIDTH_PX, height: Math.round((CLIP_WIDTH_PX * height) / width) };
  const small = await Promise.all(
    frames.map(({ webp }) =>
      sharp(webp)
        .resize({ ...size, fit: "contain", background: "#fff" })
        .removeAlpha()
        .png()
        .toBuffer(),
    ),
  );
  const delay = frames.map(({ atMs }, index) => (frames[index + 1]?.atMs ?? atMs + LAST_FRAME_MS) - atMs);
  return sharp(small, { join: { animated: true } })
    .webp({ quality: 80, effort: 2, delay, loop: 0 })
    .toBuffer();
}

/** A zip archive of the frames as they are kept, with `recording.json`. */
export async function makeStrip(frames: readonly StoredFrame[], recording: Recording): Promise<Buffer> {
  const zip = new ZipFile();
  const seconds = (atMs: number) => (atMs / 1000).toFixed(3).padStart(6, "0");
  for (const [index, { atMs, webp }] of frames.entries())
    zip.addBuffer(webp, `${String(index).padStart(2, "0")}-${seconds(atMs)}s.webp`, { compress: false });
  zip.addBuffer(Buffer.from(`${JSON.stringify(recording, null, 2)}\n`), "recording.json");
  zip.end();
  return buffer(zip.outputStream);
}
