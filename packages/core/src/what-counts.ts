import { type Contest, EVERYTHING, KINDS, type StandingsBasis, WhatCounts } from "./contract/index.js";
import { count, joinNames } from "./format.js";

/** Whether nothing is left out and nothing is counted otherwise than it was voted. */
export const isEverything = (counts: WhatCounts): boolean =>
  [counts.kind, counts.tag, counts.prompt, counts.panel, counts.without].every((list) => list.length === 0) &&
  counts.from === undefined &&
  counts.to === undefined &&
  counts.versions === "present" &&
  counts.broken === "as_voted" &&
  counts.undelivered === "as_voted" &&
  counts.variants === "in" &&
  counts.pages === EVERYTHING.pages;

/** The contest whose ballots count, and of which step its pages are: after so many mends, or after which turn; null for first shots. */
export function readPages({ pages }: Pick<WhatCounts, "pages">): { contest: Contest; step: number | null } {
  if (pages === EVERYTHING.pages) return { contest: "entrants", step: null };
  const [of, step] = pages.split("-");
  return { contest: of === "turn" ? "turn_pages" : "mended", step: Number(step) };
}

/** The other way round: how pages of a contest's step are named. */
export const namePages = (contest: Contest, step: number): WhatCounts["pages"] =>
  `${contest === "turn_pages" ? "turn" : "mended"}-${step}`;

/** Pages that are compared beside first shots, in words. */
export function describePages(pages: WhatCounts["pages"]): string {
  const { contest, step } = readPages({ pages });
  if (step === null) return "First shots";
  return contest === "turn_pages" ? `After turn ${step}` : `After ${count(step, "mend")} at most`;
}

/** The names that a sentence needs. */
export interface CountedNames {
  prompts: readonly Pick<StandingsBasis["prompts"][number], "key" | "title">[];
  panels: readonly Pick<StandingsBasis["panels"][number], "id" | "title">[];
}

/** A list of more than this is told by its number. */
const MOST_NAMED = 4;

const list = (names: readonly string[], many: string, joint: "and" | "or" = "and"): string =>
  names.length > MOST_NAMED ? `${names.length} ${many}` : joinNames(names, joint);

const MONTHS = "January February March April May June July August September October November December".split(" ");
const formatDay = (day: string): string => {
  const [year, month, date] = day.split("-").map(Number);
  return `${date!} ${MONTHS[month! - 1]!} ${year!}`;
};

function describeDays({ from, to }: WhatCounts): string {
  if (from !== undefined && from === to) return `cast on ${formatDay(from)} (UTC)`;
  if (from !== undefined && to !== undefined) return `cast from ${formatDay(from)} to ${formatDay(to)} (UTC)`;
  if (from !== undefined) return `cast since ${formatDay(from)} (UTC)`;
  return to === undefined ? "" : `cast until ${formatDay(to)} (UTC)`;
}

/** What counts, as sentences that a reader of the standings understands; "All ballots." where nothing is chosen. */
export function describeCounts(counts: WhatCounts, { prompts, panels }: CountedNames): string {
  const titleOf = (key: string) => prompts.find((prompt) => prompt.key === key)?.title ?? key;
  const panelOf = (id: string) => panels.find((panel) => panel.id === id)?.title ?? "a panel that is not there";
  const kinds = counts.kind.map((kind) => KINDS[kind].plural.toLowerCase());
  const limits = [
    kinds.length === 0 ? "" : `on ${list(kinds, "kinds")}`,
    counts.tag.length === 0 ? "" : `on what is tagged ${list(counts.tag, "tags", "or")}`,
    counts.prompt.length === 0 ? "" : `on ${list(counts.prompt.map(titleOf), "prompts")}`,
    counts.variants === "in" ? "" : "on no variants",
    counts.panel.length === 0
      ? ""
      : `of ${list(
          counts.panel.map((id) => `panel ${panelOf(id)}`),
          "panels",
        )}`,
    describeDays(counts),
    counts.without.length === 0
      ? ""
      : `without ${counts.without.length === 1 ? "one voter" : `${counts.without.length} voters`}`,
  ].filter((limit) => limit !== "");
  const sentences = [
    counts.pages === EVERYTHING.pages
      ? ""
      : `Pages ${describePages(counts.pages).toLowerCase()}, by the panels that compare those; what was delivered, costs and times are of first shots.`,
    limits.length === 0 ? "All ballots." : `Only ballots ${limits.join(", ")}.`,
    counts.versions === "all" ? "Older set-ups compete, too." : "",
    counts.broken === "lose" ? "Pages that show nothing lose." : "",
    counts.broken === "leave_out" ? "Pages that show nothing are left out." : "",
    counts.undelivered === "leave_out" ? "What was not delivered is left out." : "",
  ];
  return sentences.filter((sentence) => sentence !== "").join(" ");
}

/** What of URLSearchParams is needed to read one. */
export interface Query {
  get: (name: string) => string | null;
  getAll: (name: string) => string[];
}

const LISTS = ["kind", "tag", "prompt", "panel", "without"] as const satisfies readonly (keyof WhatCounts)[];
const SINGLES = [
  "from",
  "to",
  "versions",
  "broken",
  "undelivered",
  "pages",
  "variants",
] as const satisfies readonly (keyof WhatCounts)[];
/** The parameters of an address that say what counts. */
export const COUNTS_PARAMETERS: readonly string[] = [...LISTS, ...SINGLES];

/** The parameters of an address that say what counts, for `WhatCounts` to read; others are passed over. */
export const pickCounts = (query: Query): Record<string, unknown> => ({
  ...Object.fromEntries(LISTS.map((name) => [name, query.getAll(name)])),
  ...Object.fromEntries(SINGLES.map((name) => [name, query.get(name) ?? undefined])),
});

/** What counts by an address; of a parameter that cannot be read, what it limits is not limited. */
export function readCounts(query: Query): WhatCounts {
  const picked = pickCounts(query);
  const readable = Object.entries(WhatCounts.shape).filter(([name, schema]) => schema.safeParse(picked[name]).success);
  return WhatCounts.parse(Object.fromEntries(readable.map(([name]) => [name, picked[name]])));
}

/** What counts as parameters of an address, without what limits nothing. */
export const writeCounts = (counts: WhatCounts): [name: string, value: string][] => [
  ...LISTS.flatMap((name) => counts[name].map((value): [string, string] => [name, value])),
  ...SINGLES.flatMap((name): [string, string][] =>
    counts[name] === undefined || counts[name] === EVERYTHING[name] ? [] : [[name, counts[name]]],
  ),
];
