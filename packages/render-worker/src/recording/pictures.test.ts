import { createHash } from "node:crypto";
import sharp from "sharp";
import { describe, expect, it } from "vitest";
import { Darkroom, decodePicture, keepFrame, keepPreview, keepSprite } from "./pictures.js";

/** A picture of one colour with a white corner, as the browser gives it. */
async function paint(colour: { r: number; g: number; b: number }, width = 800, height = 500): Promise<string> {
  const corner = await sharp({ create: { width: 80, height: 50, channels: 3, background: "#fff" } })
    .png()
    .toBuffer();
  const picture = sharp({ create: { width, height, channels: 3, background: colour } });
  return (
    await picture
      .composite([{ input: corner, left: 0, top: 0 }])
      .png()
      .toBuffer()
  ).toString("base64");
}
const RED = { r: 200, g: 0, b: 0 };

describe("a frame", () => {
  it("is named by the digest of what the browser gave, and kept in two sizes", async () => {
    const png = await paint(RED);
    const kept = new Map<string, Buffer>();
    const keep = (webp: Buffer, name: string) => {
      kept.set(name, webp);
      return Promise.resolve(name);
    };
    const { frame, content } = await keepFrame({ atMs: 500, png }, "frame-01", { darkroom: new Darkroom(), keep });
    expect(frame).toEqual({
      atMs: 500,
      sha256: createHash("sha256").update(Buffer.from(png, "base64")).digest("hex"),
      file: "frame-01",
      thumbnail: "frame-01-320",
    });
    expect(content).toBeCloseTo(0.01, 6);
    const sizes = await Promise.all([...kept.values()].map((webp) => sharp(webp).metadata()));
    expect(sizes.map(({ format, width, height }) => ({ format, width, height }))).toEqual([
      { format: "webp", width: 800, height: 500 },
      { format: "webp", width: 320, height: 200 },
    ]);
  });

  it("is developed once, however often it is asked for", async () => {
    const darkroom = new Darkroom();
    const png = await paint(RED);
    expect(darkroom.develop(png)).toBe(darkroom.develop(png));
    expect(darkroom.develop(await paint({ ...RED, g: 90 }))).not.toBe(darkroom.develop(png));
  });

  it("that is none fails for whoever asks for it, and for nobody else", async () => {
    const darkroom = new Darkroom();
    void darkroom.develop("bm90IGEgcGljdHVyZQ==");
    await new Promise((resolve) => setTimeout(resolve, 50));
    await expect(darkroom.develop("bm90IGEgcGljdHVyZQ==")).rejects.toThrow();
  });
});

describe("a preview", () => {
  it("is 640 px wide, or as wide as the page where that is less", async () => {
    const widths: number[] = [];
    const keep = async (webp: Buffer) => {
      widths.push((await sharp(webp).metadata()).width);
      return "x";
    };
    await keepPreview(await decodePicture(await paint(RED)), "poster", keep);
    await keepPreview(await decodePicture(await paint(RED, 300, 200)), "poster", keep);
    expect(widths).toEqual([640, 300]);
  });
});

describe("a sprite", () => {
  it("shows the small pictures row by row, six in each", async () => {
    const colours = Array.from({ length: 8 }, (_, i) => ({ r: 30 * i, g: 0, b: 0 }));
    const smalls = await Promise.all(colours.map(async (colour) => await decodePicture(await paint(colour, 100, 80))));
    let sheet: Buffer | null = null;
    const sprite = await keepSprite(smalls, (webp) => {
      sheet = webp;
      return Promise.resolve("sprite");
    });
    expect(sprite).toEqual({ file: "sprite", columns: 6, frameWidth: 100, frameHeight: 80 });
    const { data, info } = await sharp(sheet!).raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([600, 160]);
    const redAt = (x: number, y: number) => data[(y * info.width + x) * info.channels]!;
    for (const [i, { r }] of colours.entries()) {
      const [x, y] = [(i % 6) * 100 + 95, Math.floor(i / 6) * 80 + 75];
      expect(Math.abs(redAt(x, y) - r)).toBeLessThan(12);
    }
  });
  it("is not made of pictures of several sizes", async () => {
    const [a, b] = [await decodePicture(await paint(RED, 100, 80)), await decodePicture(await paint(RED, 90, 80))];
    expect(await keepSprite([a, b], () => Promise.resolve(""))).toBeNull();
    expect(await keepSprite([], () => Promise.resolve(""))).toBeNull();
  });
});
