import { createRandom } from "@tourney/core/random";
import { describe, expect, it } from "vitest";
import { type Looks, measurePicture } from "./looks.js";
import { drawTaste, judge } from "./taste.js";

const good: Looks = { motion: 0.4, controls: 1, window: 0.8, detail: 0.6, legible: 1, sound: 1 };
const poor: Looks = { motion: 0, controls: 0.2, window: 0.2, detail: 0.1, legible: 0.3, sound: 0.4 };
const dead: Looks = { ...poor, sound: 0 };

/** What 60 voters say of two pages, seen from the right one. */
const leansFor = (left: Looks, right: Looks, number?: number) =>
  Array.from({ length: 60 }, (_, i) => {
    const random = createRandom(i + 1);
    return judge({ left, right, kind: "game" }, drawTaste(number ?? 1000 + i, random), random);
  });

describe("a sample voter", () => {
  it("prefers what works, answers and fills the window, on either side", () => {
    expect(leansFor(poor, good).filter(({ lean }) => lean > 0).length).toBeGreaterThan(55);
    expect(leansFor(good, poor).filter(({ lean }) => lean < 0).length).toBeGreaterThan(55);
  });

  it("hardly ever calls one of two equals better by far, and leans to neither side", () => {
    const leans = leansFor(good, good).map(({ lean }) => lean);
    expect(leans.filter((lean) => Math.abs(lean) === 2).length).toBeLessThan(4);
    expect(Math.abs(leans.reduce<number>((sum, lean) => sum + lean, 0))).toBeLessThan(15);
  });

  it("says of a dead page that it does not work", () => {
    for (const { leftWorks, rightWorks } of leansFor(good, dead))
      expect([leftWorks, rightWorks]).toEqual([true, false]);
  });

  it("may be careless, or always click left, and is quick then", () => {
    const careless = leansFor(good, poor, 9);
    expect(new Set(careless.map(({ lean }) => lean)).size).toBe(5);
    expect(leansFor(poor, good, 23).every(({ lean }) => lean === -2)).toBe(true);
    for (const { dwellMs } of careless) expect(dwellMs).toBeLessThan(3000);
  });
});

describe("what is seen in a picture", () => {
  const picture = (colourAt: (x: number, y: number) => number) => {
    const [width, height, channels] = [80, 50, 3] as const;
    const data = Uint8Array.from({ length: width * height * channels }, (_, i) => {
      const pixel = Math.floor(i / channels);
      return colourAt(pixel % width, Math.floor(pixel / width));
    });
    return { data, width, height, channels };
  };

  it("is nothing in one colour, and in one corner that corner's share of the window", () => {
    expect(measurePicture(picture(() => 200))).toMatchObject({ window: 0 });
    expect(measurePicture(picture((x, y) => (x < 20 && y < 10 ? 0 : 200))).window).toBe(1 / 20);
  });

  it("is the more detailed the more edges and colours there are", () => {
    const [plain, busy] = [picture((x) => (x < 40 ? 0 : 200)), picture((x, y) => ((x * 7) ^ (y * 13)) % 256)];
    expect(measurePicture(plain).detail).toBeLessThan(0.2 * measurePicture(busy).detail);
  });
});
