import { createRandom } from "@tourney/core/random";
import type { BlobStore } from "@tourney/store";
import sharp from "sharp";

const PICTURES = 240;

/** Pictures 320 px wide with something on them, all different, as the recorder keeps them. */
export async function makePictures(blobs: Pick<BlobStore, "put">): Promise<string[]> {
  const random = createRandom(7);
  const files: string[] = [];
  for (let i = 0; i < PICTURES; i++) {
    const shapes = Array.from({ length: 24 }, () => {
      const [x, y, r] = [random() * 320, random() * 200, 4 + random() * 60];
      return `<circle cx="${x}" cy="${y}" r="${r}" fill="hsl(${random() * 360} 60% ${20 + random() * 60}%)"/>`;
    });
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="320" height="200"><rect width="320" height="200" fill="#eee"/>${shapes.join("")}</svg>`;
    files.push(`${await blobs.put(await sharp(Buffer.from(svg)).webp({ quality: 84 }).toBuffer())}.webp`);
  }
  return files;
}
