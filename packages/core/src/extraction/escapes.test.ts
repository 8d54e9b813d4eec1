import { runInThisContext } from "node:vm";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readEscapes, unescapeText } from "./escapes.js";

describe("a string with escapes", () => {
  it.each([
    [String.raw`a\nSea \x4bale`, "js", "a\nSea Kale"],
    [String.raw`\u0053ea \u{4b}ale\\n`, "js", String.raw`Sea Kale\n`],
    [String.raw`\53 ea \00004bale`, "css", "Sea Kale"],
    [String.raw`\"Sea\" K\61le`, "css", `"Sea" Kale`],
  ] as const)("reads as its program reads it: %s", (text, language, read) =>
    expect(readEscapes(text, language)).toBe(read),
  );

  it("keeps the place of each character", () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom("a", "\\n", "\\x41", "\\u{1f600}", "\\", "é")),
        fc.constantFrom("js", "css"),
        (parts, language) => {
          const written = parts.join("");
          const { text, starts, ends } = unescapeText(written, language, 7);
          expect(text).toBe(readEscapes(written, language));
          expect([starts.length, ends.length]).toEqual([text.length, text.length]);
          for (let i = 1; i < starts.length; i++)
            expect(starts[i]).toBeGreaterThanOrEqual(starts[i] === starts[i - 1] ? 0 : ends[i - 1]!);
        },
      ),
    );
  });

  it("is what the browser's own reading gives", () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom("a", "\\n", "\\x41", "\\u{1f600}", "\\\\", "\\t", "é", "'")), (parts) => {
        const written = parts.join("");
        expect(readEscapes(written, "js")).toBe(runInThisContext(`"${written}"`) as string);
      }),
    );
  });
});
