import fc from "fast-check";
import { expect, it } from "vitest";
import { trimEndOf } from "./text-ends.js";

it("takes off the end what a pattern would", () => {
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom("/", ".", "a", "\n") }), (text) => {
      expect(trimEndOf(text, /[/.]/)).toBe(text.replace(/[/.]+$/, ""));
    }),
  );
});
