import { describe, expect, it } from "vitest";
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
