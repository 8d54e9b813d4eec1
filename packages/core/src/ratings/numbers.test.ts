import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { makeNumbers, pickNumbers } from "./numbers.js";

describe("columns of whole numbers", () => {
  it("are as narrow as their largest number lets them be, and hold it", () => {
    const bytes = [1, 256, 257, 65_536, 65_537, 15_000_000].map((most) => {
      const numbers = makeNumbers(1, most);
      numbers[0] = most - 1;
      expect(numbers[0]).toBe(most - 1);
      return numbers.BYTES_PER_ELEMENT;
    });
    expect(bytes).toEqual([1, 1, 2, 2, 4, 4]);
  });

  it("are picked by their places, and stay as narrow", () => {
    const picking = fc
      .integer({ min: 1, max: 70_000 })
      .chain((most) =>
        fc
          .array(fc.nat(most - 1), { minLength: 1, maxLength: 30 })
          .chain((list) =>
            fc.record({ most: fc.constant(most), list: fc.constant(list), places: fc.array(fc.nat(list.length - 1)) }),
          ),
      );
    fc.assert(
      fc.property(picking, ({ most, list, places }) => {
        const column = makeNumbers(list.length, most);
        column.set(list);
        const picked = pickNumbers(column, places);
        expect(Array.from(picked)).toEqual(places.map((place) => list[place]));
        expect(picked.constructor).toBe(column.constructor);
        expect(Array.from(pickNumbers(list, places))).toEqual(Array.from(picked));
      }),
    );
  });
});
