import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { scanScript, scanStyles, type ScriptPart } from "./script-parts.js";

/** The reading that the scanner stands for, as one expression: clear, and quadratic. */
const PARTS =
  /(\/\*(?:[^*]|\*(?!\/))*\*\/|(?<![:\\])\/\/[^\n]*)|("(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'|`(?:[^`\\]|\\.)*`)/gs;
const slowly = (js: string): ScriptPart[] =>
  [...js.matchAll(PARTS)].map((match) => ({
    type: match[1] === undefined ? "string" : "comment",
    start: match.index,
    end: match.index + match[0].length,
  }));

const piece = fc.constantFrom("/*", "*/", "//", "/", "*", '"', "'", "`", "\\", "\n", ":", "a", " ", "${", "}", "\\n");
const script = fc.array(piece, { maxLength: 60 }).map((pieces) => pieces.join(""));

describe("comments and strings of a script", () => {
  it("are those that one expression finds, whatever is written there", () => {
    fc.assert(
      fc.property(script, (js) => {
        expect([...scanScript(js)]).toEqual(slowly(js));
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
        expect([...scanStyles(css)]).toEqual(comments);
      }),
      { numRuns: 2000 },
    );
  });
});
