import { readChord } from "@tourney/core/contract";

/** More of a page's text is not read for its keys. */
const MOST_TEXT = 500_000;
/** Names that say by themselves that a key is meant. */
const SURE = /["'`](Arrow(?:Left|Right|Up|Down)|Space|Enter|Tab|Backspace|Delete|Shift|Key[A-Z]|Digit[0-9])["'`]/g;
/** A character is a key only where it is compared with one. */
const COMPARED = /(?:\bkey\w*(?:\.toLowerCase\(\))?\s*===?\s*|\bcode\s*===?\s*|\bcase\s+)["'`]([a-zA-Z0-9 ])["'`]/g;
const NUMBERED = /(?:\b(?:keyCode|which)\s*===?\s*|\bcase\s+)(3[2789]|40|13|6[5-9]|[78]\d|90)\b/g;
const BY_NUMBER: Readonly<Record<number, string>> = {
  13: "Enter",
  32: "Space",
  37: "ArrowLeft",
  38: "ArrowUp",
  39: "ArrowRight",
  40: "ArrowDown",
};

/** The keys that a page's text compares with, those first that games are played by. */
export function findNamedKeys(texts: readonly string[]): string[] {
  const found = new Set<string>();
  for (const text of texts) {
    const read = text.slice(0, MOST_TEXT);
    for (const [, name] of read.matchAll(SURE)) found.add(asKey(name!));
    for (const [, name] of read.matchAll(COMPARED)) found.add(asKey(name!));
    if (/\bkeyCode\b|\.which\b/.test(read))
      for (const [, number] of read.matchAll(NUMBERED))
        found.add(BY_NUMBER[Number(number)] ?? String.fromCharCode(Number(number)).toLowerCase());
  }
  return [...found].filter((name) => readChord(name) !== null).sort((a, b) => weigh(a) - weigh(b));
}

const asKey = (name: string): string =>
  name === " " ? "Space" : name.replace(/^Key(.)$/, (_, letter: string) => letter.toLowerCase()).replace(/^Digit/, "");

const FIRST = ["Enter", "Space", "ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown", "d", "a", "w", "s"];
const weigh = (name: string): number => (FIRST.includes(name) ? FIRST.indexOf(name) : FIRST.length);
