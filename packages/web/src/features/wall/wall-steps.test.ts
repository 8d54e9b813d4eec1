import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { stepFrom } from "./wall-steps.js";

const SIZE = { rows: 12, columns: 5 };
const press = (key: string, from: readonly [number, number], ctrlKey = false) => stepFrom(from, { key, ctrlKey }, SIZE);

describe("moving on a grid by keys", () => {
  it("goes a cell, a page, along the row or to a corner", () => {
    expect(press("ArrowDown", [3, 2])).toEqual([4, 2]);
    expect(press("ArrowLeft", [3, 2])).toEqual([3, 1]);
    expect(press("PageDown", [3, 2])).toEqual([8, 2]);
    expect(press("PageUp", [3, 2])).toEqual([0, 2]);
    expect(press("Home", [3, 2])).toEqual([3, 0]);
    expect(press("End", [3, 2])).toEqual([3, 4]);
    expect(press("Home", [3, 2], true)).toEqual([0, 0]);
    expect(press("End", [3, 2], true)).toEqual([11, 4]);
  });

  it("leaves other keys alone", () => {
    expect(press("Enter", [3, 2])).toBeNull();
    expect(press("a", [3, 2])).toBeNull();
  });

  it("never leaves the grid", () => {
    const keys = ["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight", "PageUp", "PageDown", "Home", "End"];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...keys)), (pressed) => {
        const [row, column] = pressed.reduce<readonly [number, number]>((at, key) => press(key, at)!, [0, 0]);
        return row >= 0 && row < SIZE.rows && column >= 0 && column < SIZE.columns;
      }),
    );
  });
});
