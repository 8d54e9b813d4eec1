import { describe, expect, it } from "vitest";
import * as z from "zod";
import { listIssues } from "./input-issues.js";

const wordsOf = (schema: z.ZodType, input: unknown) => {
  const { error } = schema.safeParse(input);
  return listIssues(error!).map(({ path, message }) => (path === "" ? message : `${path} ${message}`));
};

describe("what is wrong with an input, in words", () => {
  const cases: [z.ZodType, unknown, string][] = [
    [z.object({ a: z.string() }), {}, "a is missing"],
    [z.object({ a: z.string() }), { a: 4 }, "a must be text, and is a number"],
    [z.object({ a: z.number() }), { a: "4" }, "a must be a number, and is text"],
    [z.object({ a: z.array(z.string()) }), { a: null }, "a must be a list, and is empty"],
    [z.int(), 1.5, "must be a whole number"],
    [z.string().min(1), "", "must not be empty"],
    [z.string().min(3), "a", "needs at least 3 characters"],
    [z.string().max(2), "abc", "may have at most 2 characters"],
    [z.array(z.string()).min(1), [], "needs at least 1"],
    [z.array(z.string()).max(1), ["a", "b"], "may have at most 1"],
    [z.number().min(2), 1, "must be 2 or more"],
    [z.number().max(2), 3, "must be 2 or less"],
    [z.number().positive(), 0, "must be more than 0"],
    [z.number().lt(2), 2, "must be less than 2"],
    [z.enum(["a", "b"]), "c", "must be one of a, b"],
    [z.literal("a"), "c", "must be a"],
    [z.strictObject({}), { titel: 1 }, 'has no "titel": check the spelling, or take it out'],
    [z.url(), "x", "must be an address, as in http://localhost:9105/v1"],
  ];
  it.each(cases)("%# is worded plainly", (schema, input, words) => {
    expect(wordsOf(schema, input)).toEqual([words]);
  });

  it("leaves a schema's own words alone", () => {
    expect(wordsOf(z.string().min(1, "choose at least one"), "")).toEqual(["choose at least one"]);
    expect(
      wordsOf(
        z.string().refine(() => false, "names the prompt itself"),
        "x",
      ),
    ).toEqual(["names the prompt itself"]);
  });

  it("takes the nearest of several forms, however deep", () => {
    const place = z.union([z.strictObject({ name: z.string() }), z.strictObject({ x: z.number(), y: z.number() })]);
    const step = z.union([z.strictObject({ key: z.string() }), z.strictObject({ click: place })]);
    expect(wordsOf(step, { click: { x: 1 } })).toEqual(["click.y is missing"]);
    expect(wordsOf(step, { key: 5 })).toEqual(["key must be text, and is a number"]);
    const watchpoint = z.union([z.string(), z.strictObject({ text: z.string(), evidence: z.enum(["log"]) })]);
    expect(wordsOf(watchpoint, { text: "It runs", evidence: "hearsay" })).toEqual(["evidence must be log"]);
  });
});
