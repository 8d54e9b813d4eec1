import { describe, expect, it } from "vitest";
import * as z from "zod";
import { measureMs } from "../../test-support/processor-time.js";
import { parseYaml } from "./yaml.js";

const AnyMap = z.record(z.string(), z.unknown());
const withKeys = (count: number) => Array.from({ length: count }, (_, index) => `key-${index}: ${index}`).join("\n");

const measure = (text: string) => measureMs(() => expect(parseYaml(AnyMap, text).ok).toBe(true));

describe("a YAML file", () => {
  it("with a key twice in one map is refused, with the key and its line", () => {
    const issue = { path: "", message: '"b" is there twice', line: 4 };
    expect(parseYaml(AnyMap, "a:\n  b: 1\n  c: 2\n  b: 3\n")).toEqual({ ok: false, why: "syntax", issues: [issue] });
    // The same key in two maps, and two keys that are written alike but are not the same.
    expect(parseYaml(AnyMap, 'a: { b: 1 }\nc: { b: 2 }\n"1": x\n').ok).toBe(true);
    expect(parseYaml(z.unknown(), "- { a: 1, a: 2 }").ok).toBe(false);
  });

  it("of many keys is read in time that grows with their number alone", () => {
    const [few, many] = [withKeys(5000), withKeys(40_000)];
    const growth = Math.min(...[1, 2, 3].map(() => measure(many) / Math.max(15, measure(few))));
    // Held against each other, eight times the keys would take 64 times as long.
    expect(growth).toBeLessThan(8 * 1.3 ** 3);
  });
});
