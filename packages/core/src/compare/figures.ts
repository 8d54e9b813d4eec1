import type { ComparableEntry, EntryDetail, JudgedEntry } from "../contract/index.js";
import { isFirstShot, tallySheets } from "../sheets/index.js";
import { shareWon } from "./natural-pairs.js";

/** One figure of the entries that are compared, in their order. */
export interface FigureRow {
  label: string;
  /** As shown; an em dash where nothing is known. */
  texts: string[];
  /** Which are the best; none where they are equal or not like for like. */
  best: boolean[];
}

/** An entry with what else is known of it. */
export interface Compared {
  entry: EntryDetail;
  comparable: ComparableEntry | null;
  sheets: readonly JudgedEntry[];
  /** Of its entrant on this prompt, where it is the first shot that voters are shown. */
  rating: { rating: number; error: number } | null;
}

interface Measure {
  label: string;
  valueOf: (compared: Compared) => number | null;
  text: (value: number, compared: Compared) => string;
  /** Which way is better; null where neither is. */
  better: "more" | "less" | null;
  /** What must be equal for values to be told apart: a recording made otherwise cannot be better. */
  likeBy?: (compared: Compared) => unknown;
}

const recordingOf = ({ entry }: Compared) => entry.render?.recording ?? null;
/** Recordings that may be compared: by the same renderer, for the same time, at the same size. */
const recordedAlike = (compared: Compared) => {
  const recording = recordingOf(compared);
  return (
    recording &&
    [recording.rendererVersion, recording.seconds, recording.viewport.width, recording.viewport.height].join(" ")
  );
};
const answersOf = (compared: Compared) =>
  recordingOf(compared)?.controls.filter(({ state }) => state !== "not_tried") ?? [];
const two = (value: number) => value.toFixed(2);
const duration = (ms: number) => {
  if (ms < 10_000) return `${(ms / 1000).toFixed(1)} s`;
  const seconds = Math.round(ms / 1000);
  return seconds < 60 ? `${seconds} s` : `${(seconds / 60).toFixed(1)} min`;
};

/** Of a normal distribution, so that a standard error becomes half of a 95 % interval. */
const NORMAL_95 = 1.96;

const MEASURES: readonly Measure[] = [
  {
    label: "rating here",
    valueOf: ({ rating }) => rating?.rating ?? null,
    text: (value, { rating }) => `${Math.round(value)} ± ${Math.round(NORMAL_95 * rating!.error)}`,
    better: "more",
  },
  {
    label: "won here",
    valueOf: ({ comparable }) => comparable && shareWon(comparable),
    text: (share, { comparable }) =>
      `${Math.round(share * 100)} % of ${comparable!.won + comparable!.lost + comparable!.even}`,
    better: "more",
  },
  {
    label: "out of ten",
    valueOf: ({ sheets }) => tallySheets(sheets).meanMarks,
    text: (mean) => mean.toFixed(1),
    better: "more",
  },
  {
    label: "watch-points met",
    valueOf: ({ sheets }) => {
      const { met, judgedWatchpoints } = tallySheets(sheets);
      return judgedWatchpoints === 0 ? null : met / judgedWatchpoints;
    },
    text: (_share, { sheets }) => {
      const { met, judgedWatchpoints } = tallySheets(sheets);
      return `${met} of ${judgedWatchpoints}`;
    },
    better: "more",
  },
  {
    label: "cost",
    valueOf: ({ entry }) => entry.generation.costUsd,
    text: (usd) => `$${usd < 0.1 ? usd.toPrecision(2) : two(usd)}`,
    better: "less",
  },
  {
    label: "time",
    valueOf: ({ entry }) => entry.generation.timings?.totalMs ?? null,
    text: duration,
    better: "less",
  },
  {
    label: "tokens out",
    valueOf: ({ entry }) => entry.generation.usage?.outputTokens ?? null,
    text: (tokens) => String(tokens),
    better: null,
  },
  {
    label: "tokens a second",
    valueOf: ({ entry: { generation } }) => {
      const tokens = generation.usage?.outputTokens ?? null;
      const { firstTokenMs, totalMs } = generation.timings ?? { firstTokenMs: null, totalMs: 0 };
      return tokens === null || firstTokenMs === null || totalMs <= firstTokenMs
        ? null
        : (tokens * 1000) / (totalMs - firstTokenMs);
    },
    text: (rate) => String(Math.round(rate)),
    better: "more",
  },
  {
    label: "code",
    valueOf: ({ entry }) => entry.files.reduce((sum, { bytes }) => sum + bytes, 0),
    text: (bytes) => `${(bytes / 1000).toFixed(1)} kB`,
    better: null,
  },
  {
    label: "controls that answer",
    valueOf: (compared) => {
      const tried = answersOf(compared);
      return tried.length === 0 ? null : tried.filter(({ state }) => state === "answers").length / tried.length;
    },
    text: (_share, compared) => {
      const tried = answersOf(compared);
      return `${tried.filter(({ state }) => state === "answers").length} of ${tried.length}`;
    },
    better: "more",
    likeBy: recordedAlike,
  },
  {
    label: "findings",
    valueOf: (compared) => recordingOf(compared)?.findings.filter(({ severity }) => severity !== "note").length ?? null,
    text: (n) => (n === 0 ? "none" : String(n)),
    better: "less",
    likeBy: recordedAlike,
  },
  {
    label: "frames a second",
    valueOf: (compared) => recordingOf(compared)?.metrics.framesPerSecond ?? null,
    text: (rate) => String(Math.round(rate)),
    better: "more",
    likeBy: recordedAlike,
  },
  {
    label: "elements",
    valueOf: (compared) => recordingOf(compared)?.metrics.domNodes ?? null,
    text: (n) => String(n),
    better: null,
  },
  {
    label: "depth of the DOM",
    valueOf: (compared) => recordingOf(compared)?.metrics.domDepth ?? null,
    text: (n) => String(n),
    better: null,
  },
];

/**
 * The figures of entries side by side. The best is marked only among values that are alike in what they were measured by, and only where
 * some are worse; a row that is known of none is left out.
 */
export function listFigures(compared: readonly Compared[]): FigureRow[] {
  return MEASURES.flatMap(({ label, valueOf, text, better, likeBy }) => {
    const values = compared.map(valueOf);
    const known = values.filter((value): value is number => value !== null);
    if (known.length === 0) return [];
    const isAlike = new Set(compared.map((item) => likeBy?.(item))).size === 1;
    const best = better === "more" ? Math.max(...known) : Math.min(...known);
    const isTold = better !== null && isAlike && known.some((value) => value !== best);
    return [
      {
        label,
        texts: values.map((value, index) => (value === null ? "—" : text(value, compared[index]!))),
        best: values.map((value) => isTold && value === best),
      },
    ];
  });
}

/** What makes the figures of these entries unfair to compare, each in a few words; empty where all were made under the same conditions. */
export function listUnlike(compared: readonly Compared[]): string[] {
  const differs = (valueOf: (item: Compared) => unknown) => new Set(compared.map((item) => valueOf(item))).size > 1;
  return [
    ...(compared.some((item) => recordingOf(item) === null) ? ["not all are recorded"] : []),
    ...(differs(recordedAlike) ? ["recorded under different conditions"] : []),
    ...(differs(({ entry }) => entry.prompt.id) ? ["answers to different prompts"] : []),
    ...(differs(({ entry }) => entry.turn) ? ["different turns"] : []),
    ...(differs(({ entry }) => isFirstShot(entry)) ? ["a first shot beside a follow-up"] : []),
    ...(compared.some(({ entry }) => entry.handHelp !== null || entry.handMended !== null)
      ? ["one was helped by hand"]
      : []),
  ];
}
