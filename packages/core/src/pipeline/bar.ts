import type { PipelineEntrant } from "../contract/index.js";

/** A bound that no entrant may pass, as a script gives it: `broken>5%`. */
export interface Bar {
  text: string;
  measure: Measure;
  /** Whether values above the limit fail, or those below. */
  failsAbove: boolean;
  /** Whether the limit itself fails, too. */
  failsAt: boolean;
  /** A share as 0–1. */
  limit: number;
}

interface MeasureOf {
  /** In words, for help and errors. */
  words: string;
  isShare: boolean;
  /** Null where there is nothing to judge it by. */
  read: (entrant: PipelineEntrant) => number | null;
}

const share = (part: number, whole: number): number | null => (whole === 0 ? null : part / whole);

/** What can be held against a bound. */
export const MEASURES = {
  broken: {
    words: "share of first shots that do not work: an error in the recording, cut off, refused, or no page",
    isShare: true,
    read: ({ clean, tried }) => share(tried - clean, tried),
  },
  undelivered: {
    words: "share of places without a page by the model's doing",
    isShare: true,
    read: ({ none, pages }) => share(none, none + pages),
  },
  owed: {
    words: "share of places without a page by the host's doing",
    isShare: true,
    read: ({ owed, planned }) => share(owed, planned),
  },
  cost: { words: "US dollars an entry", isShare: false, read: ({ costPerEntryUsd }) => costPerEntryUsd },
  seconds: { words: "seconds an answer, the median", isShare: false, read: ({ medianSeconds }) => medianSeconds },
} satisfies Readonly<Record<string, MeasureOf>>;
export type Measure = keyof typeof MEASURES;

const BAR = /^\s*([a-z]+)\s*(>=|<=|>|<)\s*(\d+(?:\.\d+)?)\s*(?:(%)\s*)?$/;

/** Reads a bound such as `broken>5%`, `cost > 0.2` or `undelivered>=0.1`. A string is what is wrong with it. */
export function readBar(text: string): Bar | string {
  const [, name, operator, number, percent] = BAR.exec(text) ?? [];
  if (name === undefined || operator === undefined)
    return "it is not of the form NAME>LIMIT, as in broken>5% (or <, >=, <=)";
  if (!Object.hasOwn(MEASURES, name))
    return `there is no measure ${name}; there are ${Object.keys(MEASURES).join(", ")}`;
  const measure = name as Measure;
  const { isShare } = MEASURES[measure];
  const limit = percent === "%" ? Number(number) / 100 : Number(number);
  if (percent === "%" && !isShare) return `${name} is no share, so it has no %`;
  if (isShare && limit > 1) return `${name} is a share: give it as a percentage, as in ${name}${operator}${number}%`;
  return { text: text.trim(), measure, limit, failsAbove: operator.startsWith(">"), failsAt: operator.endsWith("=") };
}

/** The entrants that fail a bound, with what they came to. Who has nothing to be judged by does not fail. */
export function findFailing(
  { measure, limit, failsAbove, failsAt }: Bar,
  entrants: readonly PipelineEntrant[],
): { key: string; value: number }[] {
  return entrants.flatMap((entrant) => {
    const value = MEASURES[measure].read(entrant);
    if (value === null) return [];
    const fails = value === limit ? failsAt : value > limit === failsAbove;
    return fails ? [{ key: entrant.key, value }] : [];
  });
}
