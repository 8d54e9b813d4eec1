import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fence, longPage } from "../../test-support/answers.js";
import { scanScript, scanStyles } from "./code-state.js";
import { tokenizeHtml } from "./html-tokens.js";
import { joinParts } from "./index.js";
import { readJsonStrings } from "./json-strings.js";
import { isRefusal } from "./refusal.js";

describe("joinParts", () => {
  const answer = `Here it is.\n\n${fence("html", longPage("tide"))}\n`;
  const cutInPage = fc.integer({ min: 60, max: answer.length - 20 });

  it("gives an answer back that was cut anywhere in its page and went on there", () => {
    fc.assert(
      fc.property(cutInPage, (at) => {
        expect(joinParts([answer.slice(0, at), answer.slice(at)])).toBe(answer);
      }),
    );
  });

  it("drops what the second part repeats, however long", () => {
    fc.assert(
      fc.property(cutInPage, fc.integer({ min: 40, max: 400 }), (at, overlap) => {
        fc.pre(at - overlap > 60);
        expect(joinParts([answer.slice(0, at), answer.slice(at - overlap)])).toBe(answer);
      }),
    );
  });

  it("leaves parts alone that are answers of their own", () => {
    expect(joinParts(["One.\n", "Two."])).toBe("One.\n\nTwo.");
    expect(joinParts(["only"])).toBe("only");
  });
});

describe("scanScript", () => {
  it.each([
    ["a whole script", "const a = { b: [1, (2)] };", 0, null],
    ["open brackets", "function a() { if (b) {", 2, null],
    ["brackets in strings, templates and comments", "a('({['); `({[`; // ({[\n/* ({[ */ b('\\'(')", 0, null],
    ["brackets in a regular expression", "const r = /[({[]/g; x = a / b / c;", 0, null],
    ["nested templates", "`a ${ { b: `c ${d}` } } e`", 0, null],
    ["an end within a template", "const a = `abc ${b} d", 0, "template"],
    ["an end within a template's own code", "const a = `abc ${b(", 2, null],
    ["an end within a comment", "let a; /* b", 0, "comment"],
  ])("reads %s", (_what, code, openBrackets, within) => {
    expect(scanScript(code)).toEqual({ openBrackets, within });
  });

  it("agrees with the engine on which made-up scripts are whole", () => {
    const piece = fc.constantFrom("a", "(", ")", "{", "}", "[", "]", ";", "'s'", "`t`", "/* c */", "\n", "=", "1");
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 30 }), (pieces) => {
        const code = pieces.join(" ");
        try {
          // eslint-disable-next-line @typescript-eslint/no-implied-eval -- parsed, never called: the engine is the reference
          new Function(code);
        } catch {
          return;
        }
        // Whatever an engine can parse leaves nothing open.
        expect(scanScript(code)).toEqual({ openBrackets: 0, within: null });
      }),
      { numRuns: 500 },
    );
  });

  it("knows style sheets", () => {
    expect(scanStyles('a { b: "}" } /* { */')).toEqual({ openBrackets: 0, within: null });
    expect(scanStyles("@media x { a {")).toEqual({ openBrackets: 2, within: null });
  });
});

describe("tokenizeHtml", () => {
  it("gives pieces whose offsets are theirs in the source", () => {
    const source =
      '<!doctype html><p class="a&amp;b">One &lt; two<!-- c --></p><script>if (a < b) "</p>"</script><style>p{}</style>';
    const { tokens, endsInside } = tokenizeHtml(source);
    expect(endsInside).toBe(false);
    const start = tokens.find((token) => token.type === "start" && token.name === "p");
    expect(start).toMatchObject({ attributes: [{ name: "class", value: "a&b" }] });
    for (const token of tokens) {
      if ("text" in token && token.type !== "comment") expect(source.slice(token.start, token.end)).toBe(token.text);
    }
    expect(tokens.flatMap((token) => (token.type === "script" ? [token.text] : []))).toEqual(['if (a < b) "</p>"']);
  });

  it.each(["<div cl", '<div class="a', "<!-- a", "<p>x</p", "<p>a<"])("sees that %s breaks off", (source) => {
    expect(tokenizeHtml(source).endsInside).toBe(source !== "<p>a<");
  });
});

describe("readJsonStrings", () => {
  it("agrees with JSON.parse on every string value and where it stands", () => {
    const leaf = fc.oneof(fc.string({ unit: "binary" }), fc.integer(), fc.boolean(), fc.constant(null));
    const value = fc.letrec((tie) => ({
      any: fc.oneof(
        { depthSize: "small" },
        leaf,
        fc.array(tie("any"), { maxLength: 4 }),
        fc.dictionary(fc.string({ unit: "binary" }), tie("any"), { maxKeys: 4, noNullPrototype: true }),
      ),
    })).any;
    const strings = (item: unknown): string[] =>
      typeof item === "string"
        ? [item]
        : typeof item === "object" && item !== null
          ? Object.values(item as Record<string, unknown>).flatMap(strings)
          : [];
    fc.assert(
      fc.property(value, (item) => {
        const json = JSON.stringify(item, null, 1);
        const found = readJsonStrings(json) ?? [];
        expect(found.map((string) => string.value).toSorted()).toEqual(strings(item).toSorted());
        for (const { start, end, value: text } of found) expect(JSON.parse(`"${json.slice(start, end)}"`)).toBe(text);
      }),
    );
  });
});

describe("isRefusal", () => {
  it.each([
    "I'm sorry, but I can't create that.",
    "Sorry, I must decline: this isn't something I can help with.",
    "I am unable to assist with this request.",
    "Es tut mir leid, das kann ich nicht erstellen.",
    "Lo siento, no puedo ayudar con eso.",
  ])("knows %s", (text) => expect(isRefusal(text, "whole")).toBe(true));

  it.each([
    "Could you tell me which island you mean?",
    "I cannot run the code here, but the loop draws sixty times a second.",
    "The guard can't open the gate until the water is level.",
  ])("does not take for one: %s", (text) => expect(isRefusal(text, "whole")).toBe(false));
});
