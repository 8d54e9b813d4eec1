import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { toCanonicalJson } from "./canonical-json.js";

/** A deep copy whose objects have their keys in the opposite order. */
function reverseKeys(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(reverseKeys);
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .reverse()
      .map(([key, member]) => [key, reverseKeys(member)]),
  );
}

describe("toCanonicalJson", () => {
  it("orders keys, leaves out what is absent, and puts in no white space", () => {
    expect(toCanonicalJson({ b: [1, "é"], a: undefined, A: { z: null, y: true } })).toBe(
      '{"A":{"y":true,"z":null},"b":[1,"é"]}',
    );
  });

  it("does not depend on the order of keys, and reads back as the same value", () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const text = toCanonicalJson(value);
        expect(toCanonicalJson(reverseKeys(value))).toBe(text);
        expect(JSON.parse(text)).toEqual(JSON.parse(JSON.stringify(value)));
      }),
    );
  });

  it("refuses what JSON cannot hold", () => {
    expect(() => toCanonicalJson({ a: Number.NaN })).toThrow("Not a JSON value");
  });
});
