import { describe, expect, it } from "vitest";
import { pressKey } from "./sheet-keys.js";
import { EMPTY_SHEET, type SheetParts } from "./use-sheet.js";

const TEXTS = ["it moves", "it can be read"];
const press = (...keys: string[]): SheetParts =>
  keys.reduce((sheet, key) => ({ ...sheet, ...pressKey(sheet, TEXTS, key) }), EMPTY_SHEET);

describe("the keys of a score sheet", () => {
  it("go through met, not met, cannot tell, and back to nothing", () => {
    expect(press("2").watchpoints).toEqual([{ text: "it can be read", mark: "met" }]);
    expect(press("2", "2").watchpoints).toEqual([{ text: "it can be read", mark: "not_met" }]);
    expect(press("2", "2", "2").watchpoints).toEqual([{ text: "it can be read", mark: "unsure" }]);
    expect(press("2", "2", "2", "2").watchpoints).toEqual([]);
    expect(press("1", "2").watchpoints).toHaveLength(2);
    expect(pressKey(EMPTY_SHEET, TEXTS, "3")).toBeNull();
  });

  it("give a verdict, change it, and take it back", () => {
    expect(press("a").verdict).toBe("pass");
    expect(press("a", "D").verdict).toBe("fail");
    expect(press("s", "s").verdict).toBeNull();
  });

  it("raise and lower the marks within nought and ten", () => {
    expect(press("+").marks).toBe(5);
    expect(press("-").marks).toBe(5);
    expect(press(...Array<string>(8).fill("+")).marks).toBe(10);
    expect(press(...Array<string>(8).fill("-")).marks).toBe(0);
  });

  it("leave all else alone", () => {
    for (const key of ["Enter", "q", "0", "ArrowLeft", "Tab"]) expect(pressKey(EMPTY_SHEET, TEXTS, key)).toBeNull();
  });
});
