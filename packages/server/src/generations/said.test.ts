import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { isOutOfCredit, judgeSaid, readWords } from "./said.js";

describe("what a service says", () => {
  it.each([
    ["Plain words", "Plain words"],
    [{ error: "In a word" }, "In a word"],
    [{ error: { message: "As usual", type: "x" } }, "As usual"],
    [{ error: { message: { text: "Deeper" } } }, "Deeper"],
    [{ detail: [{ loc: ["body"], msg: "One" }, { msg: "Two" }] }, "One; Two"],
    [{ status: 3 }, null],
    ["  ", null],
    [null, null],
  ])("is found wherever it stands: %j", (said, words) => {
    expect(readWords(said)).toBe(words);
  });

  it("is words or nothing, whatever comes", () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 9 }), (said) => {
        const words = readWords(said);
        expect(words === null || (typeof words === "string" && words !== "")).toBe(true);
        expect(typeof judgeSaid(said).words).toBe("string");
      }),
    );
  });

  it.each([
    [{ error: { message: "Overloaded", code: 503 } }, "server_error"],
    [{ type: "error", error: { type: "overloaded_error", message: "Overloaded" } }, "server_error"],
    [{ error: { message: "Too many requests", code: 429 } }, "rate_limited"],
    [{ error: { message: "Insufficient credits" } }, "unauthorized"],
    [{ error: { message: "No such key", code: 401 } }, "unauthorized"],
    [{ error: { message: "temperature is not allowed", code: 400 } }, "bad_request"],
    [{ error: { message: "The model was withdrawn" } }, "bad_response"],
  ])("is judged by its code, else by its words: %j", (said, cause) => {
    expect(judgeSaid(said).cause).toBe(cause);
  });

  it("is about money only where it says so", () => {
    expect(isOutOfCredit("You exceeded your current quota, please check your plan", 429)).toBe(true);
    expect(isOutOfCredit("whatever", 402)).toBe(true);
    expect(isOutOfCredit("Rate limit reached for this minute", 429)).toBe(false);
  });
});
