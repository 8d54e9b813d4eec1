import { createHash } from "node:crypto";
import type { Frame, Recording, RecordingPlan } from "@tourney/core/contract";
import { changedShare, contentShare, type Pixels } from "@tourney/core/image";
import { findFindings } from "@tourney/core/page";
import sharp from "sharp";
import type { Gathered } from "./record-page.js";

/** Changes whenever recordings made before and after cannot be compared. */
const RENDERER_VERSION = "begin-frame/1";

const THUMBNAIL_WIDTH_PX = 320;
/** Effort 1 of 6 is four times as fast as the default and a few per cent larger. */
const WEBP = { quality: 84, effort: 1 } as const;

/** Keeps a picture and returns the name it can be found by. */
export type KeepPicture = (webp: Buffer, hint: string) => Promise<string>;

/** Turns what the browser gave into the recording: pictures hashed by their pixels and kept, motion measured, findings made. */
export async function makeRecording(
  gathered: Gathered,
  plan: RecordingPlan,
  { keep, wallMs }: { keep: KeepPicture; wallMs: number },
): Promise<Omit<Recording, "views">> {
  const frames: Frame[] = [];
  const content: number[] = [];
  const motion: number[] = [];
  let previous: Pixels | null = null;
  for (const [index, picture] of gathered.pictures.entries()) {
    const pixels = await decode(picture.png);
    frames.push(await keepFrame(picture, `frame-${String(index).padStart(2, "0")}`, keep, pixels));
    content.push(contentShare(pixels));
    if (previous) motion.push(round(changedShare(previous, pixels)));
    previous = pixels;
  }
  const { outcome, outcomeDetail, log, blocked, isolation, domNodes } = gathered;
  const frameTimesMs = frames.map(({ atMs }) => atMs);
  const findings = findFindings({
    outcome,
    outcomeDetail,
    frameTimesMs,
    content,
    motion,
    log,
    blocked,
    motionExpected: plan.motionExpected,
  });
  return {
    rendererVersion: RENDERER_VERSION,
    outcome,
    outcomeDetail,
    clock: "begin-frame",
    isolation,
    viewport: plan.viewport,
    seconds: plan.seconds,
    seed: plan.seed,
    frames,
    findings,
    console: log,
    requests: blocked,
    metrics: { wallMs: Math.round(wallMs), motion, domNodes },
  };
}

async function decode(png: Buffer): Promise<Pixels> {
  const { data, info } = await sharp(png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** Keeps a picture in both sizes, with the hash of its pixels. */
export async function keepFrame(
  { atMs, png }: { atMs: number; png: Buffer },
  name: string,
  keep: KeepPicture,
  pixels?: Pixels,
): Promise<Frame> {
  const { data } = pixels ?? (await decode(png));
  const [full, small] = await Promise.all([
    sharp(png).webp(WEBP).toBuffer(),
    sharp(png).resize({ width: THUMBNAIL_WIDTH_PX }).webp(WEBP).toBuffer(),
  ]);
  return {
    atMs,
    sha256: createHash("sha256").update(data).digest("hex"),
    file: await keep(full, name),
    thumbnail: await keep(small, `${name}-320`),
  };
}

const round = (share: number) => Math.round(share * 1e6) / 1e6;
