import fc from "fast-check";
import { fromMarkdown } from "mdast-util-from-markdown";
import { describe, expect, it } from "vitest";
import { findFences } from "./fences.js";

/** Fenced blocks as an independent CommonMark parser sees them. */
const reference = (text: string) =>
  fromMarkdown(text).children.flatMap((node) =>
    node.type === "code" ? [{ language: (node.lang ?? "").toLowerCase(), content: node.value }] : [],
  );

const language = fc.constantFrom("", "html", "css", "js", "HTML");
const mark = fc.constantFrom("```", "````", "~~~", "~~~~~");
const codeLine = fc.constantFrom("let a = 1;", "", "  <p>x</p>", "``", "~~", "# not a heading", "*/");
const block = fc.record({ language, mark, lines: fc.array(codeLine, { minLength: 1, maxLength: 6 }) });

describe("findFences", () => {
  it("agrees with a CommonMark parser on paragraphs and fences", () => {
    fc.assert(
      fc.property(fc.array(block, { maxLength: 5 }), (blocks) => {
        const text = blocks
          .map((item) => `Some prose.\n\n${item.mark}${item.language}\n${item.lines.join("\n")}\n${item.mark}\n`)
          .join("\n");
        const found = findFences(text).map((fence) => ({
          language: fence.language,
          content: fence.content.replace(/\n$/, ""),
        }));
        expect(found).toEqual(reference(text));
      }),
    );
  });

  it("does not end a fence at a shorter or another mark", () => {
    const [only, ...rest] = findFences("````txt\n```js\nx\n```\n~~~\n````\n");
    expect(rest).toEqual([]);
    expect(only).toMatchObject({ content: "```js\nx\n```\n~~~\n", isClosed: true, firstLine: 1, lastLine: 6 });
  });

  it("runs an unclosed fence to the end", () => {
    expect(findFences("a\n```html\n<p>")).toMatchObject([{ content: "<p>", isClosed: false, before: "a\n" }]);
  });

  it("does not take a code span for a fence", () => {
    expect(findFences("```inline``` text\n")).toEqual([]);
  });
});
