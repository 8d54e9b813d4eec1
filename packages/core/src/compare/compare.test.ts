import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { ComparableEntry, EntryDetail, Frame } from "../contract/index.js";
import { findFrame, listTimes, stepTime } from "./clock.js";
import { type Compared, listFigures, listUnlike } from "./figures.js";
import { listNaturalPairs } from "./natural-pairs.js";

const entry = (entryId: string, more: Partial<ComparableEntry> = {}): ComparableEntry => ({
  entryId,
  promptId: "lock",
  promptTitle: "Lock",
  isSamePrompt: true,
  entrant: { id: "new", name: "New", glyph: 1 },
  predecessorId: "old",
  versionId: "new-1",
  version: 1,
  isPresent: true,
  ...{ take: 1, turn: 1, round: 0, mends: 0, corrections: 0 },
  isByHand: false,
  isSuperseded: false,
  isRecorded: true,
  answeredAt: "2031-05-12T08:00:00.000Z",
  costUsd: null,
  ...{ won: 0, lost: 0, even: 0 },
  ...more,
});
const OLD = { entrant: { id: "old", name: "Old", glyph: 2 }, predecessorId: null, versionId: "old-1" };

describe("natural pairs", () => {
  const own = entry("own");
  const pairsOf = (...others: ComparableEntry[]) =>
    Object.fromEntries(listNaturalPairs(own, [own, ...others]).map(({ key, entryIds }) => [key, entryIds]));

  it("finds the predecessor's first shot, and from there the successor", () => {
    const old = entry("old", OLD);
    const mended = entry("old mended", { ...OLD, round: 1, mends: 1 });
    expect(pairsOf(mended, old)).toEqual({ predecessor: ["own", "old"] });
    const [successor] = listNaturalPairs(old, [own, old]);
    expect(successor).toMatchObject({ key: "predecessor", label: "Successor: New", entryIds: ["old", "own"] });
  });

  it("finds takes, mends, turns, variants and the oldest answer", () => {
    expect(pairsOf(entry("second", { take: 2 }), entry("third", { take: 3 }))["takes"]).toEqual([
      "own",
      "second",
      "third",
    ]);
    expect(pairsOf(entry("mended", { round: 1, mends: 1 }))).toEqual({ rounds: ["own", "mended"] });
    expect(pairsOf(entry("then", { turn: 2 }))["turns"]).toEqual(["own", "then"]);
    expect(pairsOf(entry("hinted", { isSamePrompt: false, promptId: "lock-hinted" }))).toEqual({
      variant: ["own", "hinted"],
    });
    const first = entry("first", { versionId: "new-0", isPresent: false, answeredAt: "2031-01-01T00:00:00.000Z" });
    expect(pairsOf(first)).toEqual({ oldest: ["own", "first"] });
  });

  it("sets the best against the worst only where enough ballots say so", () => {
    const rated = [
      entry("a", { ...OLD, won: 9, lost: 1 }),
      entry("b", { ...OLD, won: 1, lost: 9 }),
      entry("c", { ...OLD, won: 4, even: 2 }),
    ];
    expect(pairsOf(...rated)["rated"]).toEqual(["a", "b"]);
    expect(pairsOf(rated[0]!, rated[2]!)["rated"]).toBeUndefined();
  });

  it("offers two to six entries each, none twice", () => {
    const any = fc.record({
      take: fc.integer({ min: 1, max: 9 }),
      turn: fc.integer({ min: 1, max: 3 }),
      round: fc.integer({ min: 0, max: 3 }),
      isOld: fc.boolean(),
      won: fc.integer({ min: 0, max: 9 }),
    });
    fc.assert(
      fc.property(fc.array(any, { maxLength: 40 }), (drawn) => {
        const others = drawn.map(({ isOld, ...rest }, i) =>
          entry(String(i), { ...rest, lost: i % 7, ...(isOld ? OLD : {}) }),
        );
        for (const { entryIds } of listNaturalPairs(own, [own, ...others])) {
          expect(entryIds.length).toBeGreaterThanOrEqual(2);
          expect(entryIds.length).toBeLessThanOrEqual(6);
          expect(new Set(entryIds).size).toBe(entryIds.length);
        }
      }),
    );
  });
});

describe("one clock", () => {
  const frames = [0, 500, 1000].map((atMs) => ({ atMs }) as Frame);
  it("shows the last frame taken by a time, and the first before any", () => {
    expect(findFrame(frames, 0)?.atMs).toBe(0);
    expect(findFrame(frames, 999)?.atMs).toBe(500);
    expect(findFrame(frames, 9000)?.atMs).toBe(1000);
    expect(findFrame(frames.slice(1), 0)?.atMs).toBe(500);
    expect(findFrame([], 0)).toBeUndefined();
  });
  it("steps through the frames of all recordings, and stops at the ends", () => {
    const times = listTimes([frames, [{ atMs: 700 } as Frame]]);
    expect(times).toEqual([0, 500, 700, 1000]);
    expect(stepTime(times, 500, 1)).toBe(700);
    expect(stepTime(times, 640, -1)).toBe(500);
    expect(stepTime(times, 1000, 1)).toBe(1000);
    expect(stepTime(times, 0, -1)).toBe(0);
    expect(stepTime([], 300, 1)).toBe(0);
  });
});

describe("figures side by side", () => {
  const compared = (more: object, recording: object | null = {}): Compared => ({
    entry: {
      prompt: { id: "lock" },
      files: [{ bytes: 4000 }],
      ...{ turn: 1, mends: 0, corrections: 0, handHelp: null, handMended: null },
      generation: { costUsd: 0.01, timings: { totalMs: 2000, firstTokenMs: 1000 }, usage: { outputTokens: 500 } },
      render: recording && {
        recording: {
          rendererVersion: "7",
          seconds: 6,
          viewport: { width: 1280, height: 800 },
          controls: [],
          findings: [],
          metrics: { framesPerSecond: 60, domNodes: 12 },
          ...recording,
        },
      },
      ...more,
    } as unknown as EntryDetail,
    comparable: null,
    sheets: [],
    rating: null,
  });
  const row = (rows: ReturnType<typeof listFigures>, label: string) => rows.find((item) => item.label === label);

  it("have the rating on this prompt with its 95 % interval, where there is one", () => {
    const [first, second] = [compared({}), compared({})];
    expect(row(listFigures([first, second]), "rating here")).toBeUndefined();
    const rated = [{ ...first, rating: { rating: 1612.4, error: 50 } }, second];
    expect(row(listFigures(rated), "rating here")?.texts).toEqual(["1612 ± 98", "—"]);
  });

  it("marks the best of each, and no winner among equals", () => {
    const cheap = {
      generation: { costUsd: 0.002, timings: { totalMs: 2000, firstTokenMs: 1000 }, usage: { outputTokens: 500 } },
    };
    const rows = listFigures([compared({}), compared(cheap)]);
    expect(row(rows, "cost")).toEqual({ label: "cost", texts: ["$0.010", "$0.0020"], best: [false, true] });
    expect(row(rows, "time")?.best).toEqual([false, false]);
    expect(row(rows, "tokens a second")?.texts).toEqual(["500", "500"]);
    // Nobody was judged, so there is nothing to say of it.
    expect(row(rows, "out of ten")).toBeUndefined();
  });

  it("tells long times in minutes, and says how deep the document is", () => {
    const slow = { generation: { costUsd: 0.01, timings: { totalMs: 152_000, firstTokenMs: 1000 }, usage: null } };
    const deep = { metrics: { framesPerSecond: 60, domNodes: 12, domDepth: 7 } };
    const rows = listFigures([compared(slow, deep), compared({})]);
    expect(row(rows, "time")?.texts).toEqual(["2.5 min", "2.0 s"]);
    expect(row(rows, "depth of the DOM")?.texts).toEqual(["7", "—"]);
  });

  it("marks no best among recordings made under different conditions, and says why", () => {
    const worse = { findings: [{ severity: "error" }], rendererVersion: "6" };
    const pair = [compared({}), compared({}, worse)];
    expect(row(listFigures(pair), "findings")).toEqual({
      label: "findings",
      texts: ["none", "1"],
      best: [false, false],
    });
    expect(listUnlike(pair)).toEqual(["recorded under different conditions"]);
    expect(listUnlike([compared({}), compared({})])).toEqual([]);
    expect(listUnlike([compared({}), compared({ mends: 1, turn: 2 }, null)])).toEqual([
      "not all are recorded",
      "recorded under different conditions",
      "different turns",
      "a first shot beside a follow-up",
    ]);
  });

  it("shows what is not known as such, and does not call it best", () => {
    const unknown = compared({ generation: { costUsd: null, timings: null, usage: null } });
    const rows = listFigures([unknown, compared({})]);
    expect(row(rows, "cost")).toEqual({ label: "cost", texts: ["—", "$0.010"], best: [false, false] });
  });
});
