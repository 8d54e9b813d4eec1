import { hash } from "node:crypto";
import type { Frame, Sprite, WholePage } from "@tourney/core/contract";
import { contentShare, type Pixels } from "@tourney/core/image";
import sharp from "sharp";
import type { Picture } from "./clip.js";
import type { WholePicture } from "./whole-page.js";

// One recording uses one core; several recordings at a time use the others.
sharp.concurrency(1);

const THUMBNAIL_WIDTH_PX = 320;
const PREVIEW_WIDTH_PX = 640;
/** Of a sprite's frames in a row. */
const SPRITE_COLUMNS = 6;
/** Effort 0 of 6 takes a third of the default's time and makes files a few per cent larger. */
const WEBP = { quality: 84, effort: 0 } as const;

/** Keeps a picture and returns the name it can be found by. */
export type KeepPicture = (webp: Buffer, hint: string) => Promise<string>;

/** The pixels of a PNG in base64, three bytes each. */
export async function decodePicture(png: string): Promise<Pixels> {
  const image = sharp(Buffer.from(png, "base64")).removeAlpha();
  const { data, info } = await image.raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, channels: 3, data };
}

const asImage = ({ width, height, channels, data }: Pixels) => sharp(data, { raw: { width, height, channels } });

/** The picture made smaller to a width; one that is not wider stays as it is. */
async function shrink(pixels: Pixels, width: number): Promise<Pixels> {
  if (pixels.width <= width) return pixels;
  const { data, info } = await asImage(pixels).resize({ width }).raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, channels: 3, data };
}

const encode = (pixels: Pixels): Promise<Buffer> => asImage(pixels).webp(WEBP).toBuffer();

/** A picture worked out from what the browser gave. */
interface Developed {
  pixels: Pixels;
  small: Pixels;
  /** Of the PNG: pictures of the same pixels are the same bytes, and these are a hundredth of the pixels. */
  sha256: string;
  webp: Buffer;
  smallWebp: Buffer;
  /** Share of pixels that differ from the commonest colour. */
  content: number;
}

/** Develops the pictures of one recording, equal ones once, beside the clip that goes on meanwhile. */
export class Darkroom {
  private readonly developed = new Map<string, Promise<Developed>>();

  /** @param png in base64. */
  develop(png: string): Promise<Developed> {
    const known = this.developed.get(png);
    if (known) return known;
    const developing = developPicture(png);
    // Whoever asks for the picture is told; a clip that is broken off asks for none.
    developing.catch(() => undefined);
    this.developed.set(png, developing);
    return developing;
  }
}

async function developPicture(png: string): Promise<Developed> {
  const pixels = await decodePicture(png);
  const small = await shrink(pixels, THUMBNAIL_WIDTH_PX);
  return {
    pixels,
    small,
    sha256: hash("sha256", Buffer.from(png, "base64")),
    webp: await encode(pixels),
    smallWebp: await encode(small),
    content: contentShare(pixels),
  };
}

export interface KeptFrame extends Pick<Developed, "pixels" | "small" | "content"> {
  frame: Frame;
}

/** Keeps a picture in full and small, with its hash. */
export async function keepFrame(
  { atMs, png }: Picture,
  name: string,
  { darkroom, keep }: { darkroom: Darkroom; keep: KeepPicture },
): Promise<KeptFrame> {
  const { pixels, small, content, sha256, webp, smallWebp } = await darkroom.develop(png);
  const frame = { atMs, sha256, file: await keep(webp, name), thumbnail: await keep(smallWebp, `${name}-320`) };
  return { frame, pixels, small, content };
}

/** Keeps a picture 640 px wide: a poster, or one that is looked at beside others. */
export async function keepPreview(pixels: Pixels, name: string, keep: KeepPicture): Promise<string> {
  return keep(await encode(await shrink(pixels, PREVIEW_WIDTH_PX)), name);
}

/** A page's pictures put together, each at its place, to one from its top to its bottom. */
export async function keepWhole(
  { tiles, height, pageHeight, sections }: WholePicture,
  keep: KeepPicture,
): Promise<WholePage | null> {
  const [first] = tiles;
  if (first === undefined) return null;
  const { width } = await decodePicture(first.png);
  const data = new Uint8Array(width * height * 3);
  for (const { top, png } of tiles) {
    const tile = await decodePicture(png);
    const rows = Math.min(tile.height, height - top);
    if (tile.width === width && rows > 0) data.set(tile.data.subarray(0, rows * width * 3), top * width * 3);
  }
  const pixels: Pixels = { width, height, channels: 3, data };
  const file = await keep(await encode(pixels), "whole");
  const thumbnail = await keep(await encode(await shrink(pixels, THUMBNAIL_WIDTH_PX)), "whole-320");
  return { file, thumbnail, width, height, pageHeight, sections };
}

/** All small pictures of a clip in one, so that a strip can be scrubbed with one request; null when they differ in size. */
export async function keepSprite(smalls: readonly Pixels[], keep: KeepPicture): Promise<Sprite | null> {
  const [first] = smalls;
  if (!first || smalls.some(({ width, height }) => width !== first.width || height !== first.height)) return null;
  const { width: frameWidth, height: frameHeight } = first;
  const columns = Math.min(SPRITE_COLUMNS, smalls.length);
  const rows = Math.ceil(smalls.length / columns);
  const width = columns * frameWidth;
  const data = new Uint8Array(width * rows * frameHeight * 3);
  smalls.forEach((small, index) => {
    const left = (index % columns) * frameWidth;
    const top = Math.floor(index / columns) * frameHeight;
    for (let y = 0; y < frameHeight; y++) {
      const row = small.data.subarray(y * frameWidth * 3, (y + 1) * frameWidth * 3);
      data.set(row, ((top + y) * width + left) * 3);
    }
  });
  const file = await keep(await encode({ width, height: rows * frameHeight, channels: 3, data }), "sprite");
  return { file, columns, frameWidth, frameHeight };
}
