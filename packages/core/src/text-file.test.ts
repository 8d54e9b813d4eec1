import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { decodeText } from "./text-file.js";

const latin1 = (text: string) => Uint8Array.from({ length: text.length }, (_, i) => text.charCodeAt(i));
const utf8 = (text: string) => new TextEncoder().encode(text);

describe("the text of a file", () => {
  it("is what was written, whatever it is", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme" }), (text) => {
        fc.pre(!text.startsWith("\uFEFF"));
        expect(decodeText(utf8(text), "a.yaml")).toBe(text);
      }),
    );
  });

  it("is read without its byte order mark, and as UTF-16 where that says so", () => {
    expect(decodeText(utf8("\uFEFFkey: a"), "a.yaml")).toBe("key: a");
    expect(decodeText(Uint8Array.from([0xff, 0xfe, 0x61, 0, 0xe9, 0]), "a.yaml")).toBe("aé");
    expect(decodeText(Uint8Array.from([0xfe, 0xff, 0, 0x61]), "a.yaml")).toBe("a");
  });

  it.each([
    ["key: a\ntitle: Café\n", /a\.yaml is not UTF-8 text: line 2, after “title: Caf”, has byte 0xE9/],
    ["\xe9", /line 1, has byte 0xE9/],
    ["x".repeat(100_000) + "\n\xfc", /line 2, has byte 0xFC/],
  ])("is refused where it is in another encoding, with the place", (text, message) => {
    expect(() => decodeText(latin1(text), "a.yaml")).toThrow(message);
  });

  it("is refused where it ends within a letter", () => {
    expect(() => decodeText(utf8("Café").subarray(0, 4), "a.yaml")).toThrow("after “Caf”");
  });
});
