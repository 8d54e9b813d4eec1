import { describe, expect, it } from "vitest";
import fc from "fast-check";
import { changedShare, contentShare, differsOutside, type Pixels } from "./pixels.js";

const paint = (colours: [number, number, number][]): Pixels => ({
  width: colours.length,
  height: 1,
  channels: 4,
  data: Uint8Array.from(colours.flatMap((colour) => [...colour, 255])),
});
const WHITE: [number, number, number] = [255, 255, 255];
const RED: [number, number, number] = [200, 0, 0];

describe("changedShare", () => {
  it("counts pixels that changed by more than the tolerance", () => {
    expect(changedShare(paint([WHITE, WHITE, RED, RED]), paint([WHITE, [250, 255, 255], WHITE, RED]))).toBe(0.25);
  });
  it("refuses pictures of two sizes", () => {
    expect(() => changedShare(paint([WHITE]), paint([WHITE, RED]))).toThrow("cannot be compared");
  });
});

describe("contentShare", () => {
  it.each([WHITE, RED, [0, 0, 0] as [number, number, number], [127, 8, 16] as [number, number, number]])(
    "is 0 for a page of one colour, whatever it is",
    (...colour) => {
      expect(contentShare(paint(Array.from({ length: 20 }, () => colour)))).toBe(0);
    },
  );
  it("is the share of what is drawn on the commonest colour", () => {
    expect(contentShare(paint([WHITE, WHITE, WHITE, RED]))).toBe(0.25);
  });
  it("ignores noise within the tolerance", () => {
    expect(contentShare(paint([WHITE, [252, 255, 254], WHITE]))).toBe(0);
  });
});

describe("differsOutside", () => {
  const [a, b] = [paint([WHITE, RED, WHITE, WHITE]), paint([WHITE, WHITE, WHITE, WHITE])];
  it("looks beside a part only", () => {
    expect(differsOutside(a, b, [{ left: 1, top: 0, right: 2, bottom: 1 }])).toBe(false);
    expect(differsOutside(a, b, [{ left: 2, top: 0, right: 4, bottom: 1 }])).toBe(true);
    expect(differsOutside(a, a, [])).toBe(false);
  });
  it("takes pictures of two sizes for different", () => {
    expect(differsOutside(a, paint([WHITE]), [{ left: 0, top: 0, right: 9, bottom: 9 }])).toBe(true);
  });
});

/** A picture of runs of few colours, of a size that need not fill whole blocks, at any place in its memory. */
const pictures = fc
  .record({
    channels: fc.constantFrom(3 as const, 4 as const),
    offset: fc.integer({ min: 0, max: 3 }),
    runs: fc.array(
      fc.tuple(fc.constantFrom(0, 6, 12, 128, 255), fc.constantFrom(0, 7, 90), fc.integer({ min: 1, max: 9 })),
      {
        minLength: 1,
        maxLength: 12,
      },
    ),
  })
  .map(({ channels, offset, runs }): Pixels => {
    const bytes = runs.flatMap(([red, blue, times]) =>
      Array.from({ length: times }, () => [red, 40, blue, 255].slice(0, channels)).flat(),
    );
    const memory = new Uint8Array(offset + bytes.length);
    memory.set(bytes, offset);
    return { width: bytes.length / channels, height: 1, channels, data: memory.subarray(offset) };
  });

const colourAt = ({ data, channels }: Pixels, x: number) => [...data.subarray(x * channels, x * channels + 3)];
const isFar = (a: number[], b: number[]) => a.some((value, channel) => Math.abs(value - b[channel]!) > 8);

describe("pictures looked at in blocks", () => {
  it("come to what counting pixel by pixel comes to", () => {
    fc.assert(
      fc.property(pictures, pictures, (a, b) => {
        const length = Math.min(a.width, b.width);
        const cut = (picture: Pixels): Pixels => {
          const data = picture.data.subarray(0, length * picture.channels);
          return { ...picture, width: length, data };
        };
        const [left, right] = [cut(a), cut(b)];
        fc.pre(left.channels === right.channels);
        let changed = 0;
        for (let x = 0; x < length; x++) if (isFar(colourAt(left, x), colourAt(right, x))) changed++;
        expect(changedShare(left, right)).toBe(changed / length);
      }),
    );
  });

  it("come to the share beside the commonest colour", () => {
    fc.assert(
      fc.property(pictures, (picture) => {
        // Colours here are either of one bucket or far apart, so that a bucket's mean is within the tolerance of its colours.
        const colours = Array.from({ length: picture.width }, (_, x) => colourAt(picture, x));
        const counts = new Map<string, number[][]>();
        for (const colour of colours) {
          const bucket = colour.map((value) => value >> 3).join();
          counts.set(bucket, [...(counts.get(bucket) ?? []), colour]);
        }
        const most = Math.max(...[...counts.values()].map((all) => all.length));
        fc.pre([...counts.values()].filter((all) => all.length === most).length === 1);
        const mean = (all: number[][]) => [0, 1, 2].map((k) => all.reduce((sum, c) => sum + c[k]!, 0) / all.length);
        const common = mean([...counts.values()].find((all) => all.length === most)!);
        const beside = [...counts.values()]
          .filter((all) => isFar(mean(all), common))
          .reduce((n, all) => n + all.length, 0);
        expect(contentShare(picture)).toBeCloseTo(beside / picture.width, 12);
      }),
    );
  });
});
