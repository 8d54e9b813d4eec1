import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { scanScript, type ScriptParts, scanStyles } from "./script-parts.js";

/** The reading that the scanner stands for, as one expression: clear, and quadratic. */
const PARTS =
  /(\/\*(?:[^*]|\*(?!\/))*\*\/|(?<![:\\])\/\/[^\n]*)|("(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'|`(?:[^`\\]|\\.)*`)/gs;
const slowly = (js: string) =>
  [...js.matchAll(PARTS)].map((match) => ({
    type: match[1] === undefined ? "string" : "comment",
    start: match.index,
    end: match.index + match[0].length,
  }));

const listParts = (parts: ScriptParts) =>
  Array.from({ length: parts.length }, (_, index) => ({
    type: parts.isComment(index) ? "comment" : "string",
    start: parts.startOf(index),
    end: parts.endOf(index),
  }));

const piece = fc.constantFrom("/*", "*/", "//", "/", "*", '"', "'", "`", "\\", "\n", ":", "a", " ", "${", "}", "\\n");
const script = fc.array(piece, { maxLength: 60 }).map((pieces) => pieces.join(""));

describe("comments and strings of a script", () => {
  it("are those that one expression finds, whatever is written there", () => {
    fc.assert(
      fc.property(script, (js) => {
        expect(listParts(scanScript(js))).toEqual(slowly(js));
      }),
      { numRuns: 5000 },
    );
  });

  it("of a style sheet are its comments", () => {
    fc.assert(
      fc.property(script, (css) => {
        const comments = [...css.matchAll(/\/\*(?:[^*]|\*(?!\/))*\*\//g)].map(({ index, 0: text }) => ({
          type: "comment",
          start: index,
          end: index + text.length,
        }));
        expect(listParts(scanStyles(css))).toEqual(comments);
      }),
      { numRuns: 2000 },
    );
  });
});
