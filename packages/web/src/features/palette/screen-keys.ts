/** Keys and what they do, as they are listed for a person. */
export type KeyList = readonly (readonly [keys: string, does: string])[];

const EVERYWHERE: KeyList = [
  ["Ctrl K or /", "find a screen, an entry or something to do"],
  ["?", "this list"],
  ["Esc", "close what is open; take the keyboard back from a page"],
];

const SCREENS: readonly { title: string; matches: RegExp; keys: KeyList }[] = [
  {
    title: "Wall",
    matches: /^\/wall/,
    keys: [
      ["← ↑ ↓ →", "to the next cell; Home and End along the row, with Ctrl to the corners"],
      ["Enter", "open the entry"],
      ["[ ]", "scrub its recording"],
      ["J K", "the next cell that needs a look, or that the filters ask for; the one before"],
      ["Space", "mark it to be compared"],
      ["C", "compare what is marked"],
      ["F", "fan it out: takes, turns, rounds and versions"],
      ["P", "play the row in step; with Shift the column"],
    ],
  },
  {
    title: "Entry and score sheet",
    matches: /^\/entries\//,
    keys: [
      ["1–9", "a watch-point: met, not met, cannot tell, nothing"],
      ["A S D", "pass, part, fail; again takes it back"],
      ["− +", "lower or raise the marks"],
      ["N T", "to the note, to the tags"],
      ["M", "sound of the live page on or off"],
      ["J K", "while you judge: the next entry, the one before"],
      ["Enter", "while you judge: the next without a verdict"],
    ],
  },
  {
    title: "Compare",
    matches: /^\/compare/,
    keys: [
      ["Space", "play or pause"],
      ["← → or , .", "back or on by a frame; Home and End to the ends"],
      ["1–6", "one alone, and all again"],
      ["R", "live: restart all"],
      ["K", "live: inputs to all, or to one"],
      ["M", "live: sound on or off"],
    ],
  },
  {
    title: "Suite editor",
    matches: /^\/suite\/edit/,
    keys: [
      ["Ctrl Z", "undo, in the text and the form alike"],
      ["Ctrl F", "search in the text"],
    ],
  },
];

/** The lists for a screen, by its path: its own first, then what holds everywhere. */
export function listKeys(pathname: string): { title: string; keys: KeyList }[] {
  const own = SCREENS.filter(({ matches }) => matches.test(pathname)).map(({ title, keys }) => ({ title, keys }));
  return [...own, { title: "Everywhere", keys: EVERYWHERE }];
}
