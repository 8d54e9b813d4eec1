import { describe, expect, it } from "vitest";
import { maskPattern } from "./mask-pattern.js";

const NAMES = [
  { name: "Samphire 3", aliases: ["samphire-3", "Samphire"] },
  { name: "Samphire 3 Quick", aliases: [] },
  { name: "Dune Works", aliases: [] },
];
const pattern = maskPattern(NAMES)!;
const hide = (text: string) =>
  text.replace(new RegExp(pattern, "giu"), (found) => found.replace(/[\p{L}\p{N}]/gu, "•"));

describe("maskPattern", () => {
  it.each([
    ["Made by Samphire 3.", "Made by •••••••• •."],
    ["samphire-3-quick says", "••••••••-•-••••• says"],
    ["SÀMPHÍRE3", "•••••••••"],
    ["S a m p h i r e", "• • • • • • • •"],
    ["S4mph1re 3", "•••••••• •"],
    ["Ѕаmрhіrе", "••••••••"],
    ["© dune_works", "© ••••_•••••"],
  ])("hides %s", (text, hidden) => expect(hide(text)).toBe(hidden));

  it.each(["Samphires grow on salt marsh", "the dune worksheet", "sapphire 3", "SamphireBot"])(
    "leaves words alone that only look like a name: %s",
    (text) => expect(hide(text)).toBe(text),
  );

  it("is nothing without names, or with names that are too short", () => {
    expect(maskPattern([])).toBeNull();
    expect(maskPattern([{ name: "X1", aliases: [] }])).toBeNull();
  });
});
