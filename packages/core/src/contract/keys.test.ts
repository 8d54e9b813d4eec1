import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readChord } from "./keys.js";

describe("readChord", () => {
  it.each([
    ["Delete", "Delete", "Delete", 46],
    ["F2", "F2", "F2", 113],
    ["a", "a", "KeyA", 65],
    ["7", "7", "Digit7", 55],
    ["Space", " ", "Space", 32],
    [" ", " ", "Space", 32],
    [".", ".", "Period", 190],
  ])("knows %s by its key, its place and its number", (name, key, code, keyCode) => {
    expect(readChord(name)).toMatchObject({ modifiers: [], key: { key, code, keyCode } });
  });

  it("holds Shift for what needs it", () => {
    expect(readChord("?")).toEqual({
      modifiers: ["Shift"],
      key: { key: "?", code: "Slash", keyCode: 191, text: "?" },
    });
    expect(readChord("Shift+A")).toMatchObject({ modifiers: ["Shift"], key: { code: "KeyA", text: "A" } });
  });

  it("reads chords, which type nothing", () => {
    expect(readChord("Control+z")).toEqual({ modifiers: ["Control"], key: { key: "z", code: "KeyZ", keyCode: 90 } });
    expect(readChord("Control+Shift+ArrowLeft")?.modifiers).toEqual(["Control", "Shift"]);
    expect(readChord("Control++")).toMatchObject({ modifiers: ["Control", "Shift"], key: { code: "Equal" } });
    expect(readChord("+")).toMatchObject({ modifiers: ["Shift"], key: { key: "+" } });
  });

  it("takes a character that is not on a US keyboard", () => {
    expect(readChord("é")).toMatchObject({ key: { key: "é", code: "", text: "é" } });
  });

  it.each(["", "arrowright", "Ctrl+z", "Control+", "Control+Control", "Enter+a", "F13", "ab", "\u0000", "constructor"])(
    "knows no key called %j",
    (name) => expect(readChord(name)).toBeNull(),
  );

  it("never fails, whatever it is given", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), (name) => {
        const chord = readChord(name);
        expect(chord === null || chord.key.key.length > 0).toBe(true);
      }),
    );
  });
});
