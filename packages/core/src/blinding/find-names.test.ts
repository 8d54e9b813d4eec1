import { createHash } from "node:crypto";
import { runInThisContext } from "node:vm";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createNameFinder, type FindNames } from "./find-names.js";
import { DOTS, hashNames } from "./hide-names.js";

/** A text with names as dots. */
function hideNames(text: string, find: FindNames): string {
  const parts: string[] = [];
  let at = 0;
  for (const [start, end] of find(text)) {
    parts.push(text.slice(at, start), DOTS);
    at = end;
  }
  return at === 0 ? text : parts.join("") + text.slice(at);
}

const hash = (text: string) => createHash("sha256").update(text).digest("hex");
const NAMES = [
  { name: "Samphire 3", aliases: ["samphire-3", "Samphire"] },
  { name: "Samphire 3 Quick", aliases: [] },
  { name: "Dune Works", aliases: [] },
  { name: "Fern 5", aliases: [] },
];
const hidden = hashNames(NAMES, { salt: "a grain", hash })!;
// As in a page: from its source alone.
const inPage = runInThisContext(`(${createNameFinder.toString()})`) as typeof createNameFinder;
const find = inPage(hidden);
const hide = (text: string) => hideNames(text, find);

describe("names known by their hashes", () => {
  it.each([
    ["Made by Samphire 3.", "Made by •••."],
    ["samphire-3-quick says", "••• says"],
    ["SÀMPHÍRE3", "•••"],
    ["S a m p h i r e", "•••"],
    ["S4mph1re 3", "•••"],
    ["Ѕаmрhіrе", "•••"],
    ["© dune_works", "© •••"],
    ["%cSamphire 3", "%c•••"],
    ["$amphire | Samph|re", "••• | •••"],
    ["Dune|Works", "•••"],
    ["Fern 5 and fern-5", "••• and •••"],
    ["𝐒amphire", "•••"],
  ])("are hidden in %s, whatever their length", (text, told) => expect(hide(text)).toBe(told));

  it.each([
    "Samphires grow on salt marsh",
    "the dune worksheet",
    "sapphire 3",
    "SamphireBot",
    "ferns",
    "Fern S",
    "Samphire".slice(0, 7),
    "dune - - - works",
    "😀amphire",
  ])("leave words alone that only look like one: %s", (text) => expect(hide(text)).toBe(text));

  it("cannot be read from what a page is given", () => {
    const given = JSON.stringify(hidden) + createNameFinder.toString();
    expect(given).not.toMatch(/samphire|dune|works|quick\b.*\bfern/i);
    expect(JSON.stringify(hashNames(NAMES, { salt: "another", hash })!.byLength)).not.toBe(
      JSON.stringify(hidden.byLength),
    );
    expect(hashNames([{ name: "X1", aliases: [] }], { salt: "", hash })).toBeNull();
  });

  it("are found wherever they stand in whatever text, and nothing else is changed", () => {
    const around = fc.string({ unit: "grapheme", maxLength: 40 });
    fc.assert(
      fc.property(around, fc.constantFrom("Samphire 3", "dune works", "S-a-m-p-h-i-r-e"), around, (a, name, b) => {
        const [before, after] = [
          `${a.replace(/[\p{L}\p{N}\p{M}@$|!]/gu, "")} `,
          ` ${b.replace(/[\p{L}\p{N}\p{M}@$|!]/gu, "")}`,
        ];
        expect(hide(before + name + after)).toBe(before + DOTS + after);
      }),
    );
    fc.assert(
      fc.property(
        fc.string({ unit: "grapheme" }),
        (text) => hide(text.replace(/[a-z]/gi, "")) === text.replace(/[a-z]/gi, ""),
      ),
    );
  });

  it("are looked for in time that grows with the text alone", () => {
    const time = (length: number) => {
      const text = "samphir dune work ".repeat(length / 18);
      const startedAt = performance.now();
      find(text);
      return performance.now() - startedAt;
    };
    time(50_000);
    const ratios = [1, 2, 3].map(() => time(800_000) / time(100_000));
    expect(Math.min(...ratios)).toBeLessThan(20);
  });
});
