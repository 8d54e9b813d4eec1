/** The longest stretch that a spelled-out name may take, as a multiple of its own length. */
const WIDEST_SPELLING = 4;

/** How a name is spelled at some place: so that nobody writes it by chance, or as any word. */
export type Spelling = "telling" | "plain";

/** So many spellings of a name are remembered. A text may have any number of others; each of those is judged every time. */
const MOST_SPELLINGS = 10_000;

/** Tells how a stretch spells a name, or null where words only happen to follow each other. The same spelling may stand in a page a hundred thousand times. */
export function createSpellingReader(written: string): (found: string) => Spelling | null {
  const known = new Map<string, Spelling | null>();
  const own = lettersOf(written);
  const isTelling = /\d|[\s-]\S/.test(written.trim());
  const read = (found: string): Spelling | null => {
    if (!isOneSpelling(found, written)) return null;
    const isDisguised = lettersOf(found) !== own || /^(?:\p{L}[^\p{L}\p{N}]+){3}/u.test(found);
    return isTelling || isDisguised ? "telling" : "plain";
  };
  return (found) => {
    const before = known.get(found);
    if (before !== undefined) return before;
    const spelling = read(found);
    if (known.size < MOST_SPELLINGS) known.set(found, spelling);
    return spelling;
  };
}

const lettersOf = (text: string): string => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, "");

/** Whether a stretch is one spelling of a name and not words that happen to follow each other. */
function isOneSpelling(found: string, written: string): boolean {
  if (found.length > written.length * WIDEST_SPELLING + 4) return false;
  const letters = Array.from(found).filter((char) => /[\p{L}\p{N}@$!|€]/u.test(char)).length;
  const gaps = [...found.matchAll(/[^\p{L}\p{N}@$!|€]+/gu)];
  const ownGaps = [...written.matchAll(/[^\p{L}\p{N}]+/gu)].length;
  if (gaps.length <= ownGaps + 1 && gaps.every(([gap]) => gap.trim().length <= 2))
    return ownGaps > 0 || gaps.length === 0 || letters - gaps.length <= 1;
  // Spelled out: nearly every letter apart from the next, or the whole parted evenly.
  return gaps.length >= letters - 2;
}
