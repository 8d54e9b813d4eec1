import { type SearchHit, splitWords, type Wall } from "@tourney/core/contract";

/** Something that the palette leads to. */
export interface PaletteItem {
  /** What it is found by and shown as. */
  label: string;
  /** What sort it is, in a word. */
  sort: string;
  to: string;
  /** Text in which the words were found. */
  excerpt?: string;
}

const SCREENS: readonly PaletteItem[] = [
  ...["Suite", "Entrants", "Runs", "Wall", "Voting", "Standings"].map((label) => ({
    label,
    sort: "screen",
    to: `/${label.toLowerCase()}`,
  })),
  { label: "Judge the next one", sort: "do", to: "/judge" },
  { label: "Judge the next one, names hidden", sort: "do", to: "/judge?blind=1" },
  { label: "What needs a look", sort: "do", to: "/wall?look=1" },
];

/** Everything that can be gone to: screens and verbs, prompts, entrants, and entries by their prompt and entrant. */
export function listItems(wall: Wall | undefined): PaletteItem[] {
  if (wall === undefined) return [...SCREENS];
  const promptOf = new Map(wall.prompts.map((prompt) => [prompt.id, prompt.title]));
  const entrantOf = new Map(wall.entrants.map(({ version, name }) => [version.id, name]));
  return [
    ...SCREENS,
    ...wall.prompts.map(({ key, title }) => ({ label: title, sort: "prompt", to: `/suite?prompt=${key}` })),
    ...wall.entrants.map(({ id, name }) => ({ label: `Judge ${name}`, sort: "do", to: `/judge?entrant=${id}` })),
    ...wall.cells.flatMap(({ entryId, promptId, versionId }) =>
      entryId === null
        ? []
        : [
            {
              label: `${promptOf.get(promptId) ?? ""}, ${entrantOf.get(versionId) ?? ""}`,
              sort: "entry",
              to: `/entries/${entryId}`,
            },
          ],
    ),
  ];
}

/**
 * Items whose label has all the words, each at the beginning of one of its own; those that begin with what was typed first.
 *
 * @param most how many are wanted.
 */
export function findItems(items: readonly PaletteItem[], typed: string, most: number): PaletteItem[] {
  const words = splitWords(typed);
  if (words.length === 0) return items.slice(0, most);
  const found = items.filter(({ label }) => {
    const own = splitWords(label);
    return words.every((word) => own.some((part) => part.startsWith(word)));
  });
  const starts = ({ label }: PaletteItem) => (label.toLowerCase().startsWith(words[0]!) ? 0 : 1);
  return found.toSorted((a, b) => starts(a) - starts(b)).slice(0, most);
}

const SORT_WORDS: Record<SearchHit["sort"], string> = {
  entrant: "entrant",
  prompt: "prompt's text",
  note: "note",
  finding: "finding",
  answer: "answer",
};

/** A found text as something to go to: the entry it stands in, or the comparison of the two that a voter wrote about. */
export function asItem({ sort, title, excerpt, entryIds, promptKey, entrantId }: SearchHit): PaletteItem {
  const to =
    entryIds.length > 1
      ? `/compare?entries=${entryIds.join(",")}`
      : entryIds.length === 1
        ? `/entries/${entryIds[0]}`
        : entrantId === null
          ? `/suite?prompt=${promptKey ?? ""}`
          : "/entrants";
  return { label: title, sort: SORT_WORDS[sort], to, excerpt: excerpt.replace(/\s+/g, " ").trim() };
}

/** A text in parts, with those that are one of the words or the beginning of one set apart. */
export function markWords(text: string, words: readonly string[]): { text: string; isFound: boolean }[] {
  if (words.length === 0) return [{ text, isFound: false }];
  const pattern = new RegExp(`(?<![\\p{L}\\p{N}])(${words.join("|")})`, "giu");
  return text
    .split(pattern)
    .map((part, index) => ({ text: part, isFound: index % 2 === 1 }))
    .filter((part) => part.text !== "");
}
