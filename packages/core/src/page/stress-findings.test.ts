import { describe, expect, it } from "vitest";
import type { StressTest } from "../contract/index.js";
import type { Observed } from "./observed.js";
import { findUnderStress } from "./stress-findings.js";

const level = (load: string, frameMs: number, exceptions = 0) => ({ load, frameMs, heapMb: 5, exceptions });
const sample = (atMs: number, heapMb: number, exceptions = 0) => ({ atMs, heapMb, frameMs: 1, exceptions });
const SOUND: StressTest = {
  control: "slider “Number of herring”",
  levels: [level("0", 3), level("500", 6), level("1000", 12)],
  isCutShort: false,
  soak: { samples: [15, 60, 120, 180].map((s) => sample(s * 1000, 8)), wrongWords: [], isEmpty: false },
};
const find = (changes: Partial<StressTest>) =>
  findUnderStress({ stress: { ...SOUND, ...changes } } as Observed).map(({ rule, message }) => `${rule}: ${message}`);
const soak = (changes: Partial<NonNullable<StressTest["soak"]>>) => ({ soak: { ...SOUND.soak!, ...changes } });

describe("findUnderStress", () => {
  it("finds nothing where nothing was tried, and nothing wrong with what lasts", () => {
    expect(findUnderStress({ stress: null } as Observed)).toEqual([]);
    expect(find({})).toEqual([]);
    expect(find({ soak: null })).toEqual([]);
  });
  it("tells at which load a page throws, and where it begins to stutter", () => {
    expect(find({ levels: [level("0", 3), level("500", 30), level("1000", 70, 2)] })).toEqual([
      "goes_wrong: Throws when slider “Number of herring” is turned up to 1000",
      "slow_frames: Stutters when slider “Number of herring” is turned up to 1000",
    ]);
  });
  it("does not blame the load for what is slow from the beginning", () => {
    expect(find({ levels: [level("0", 60), level("500", 90)] })).toEqual([]);
  });
  it("tells what throws, shows slips or is empty after minutes", () => {
    expect(find(soak({ samples: [sample(15_000, 8, 1), sample(60_000, 8, 2)] }))).toEqual([
      "goes_wrong: Throws when it is left alone, by 60 s",
    ]);
    expect(find(soak({ wrongWords: ["NaN"], isEmpty: true }))).toEqual([
      "goes_wrong: Shows NaN in its text after 180 s",
      "goes_wrong: Nothing is left in view after 180 s",
    ]);
  });
  it("tells memory that only grows from memory that is given back", () => {
    const growing = [15, 60, 120, 180].map((s) => sample(s * 1000, s));
    expect(find(soak({ samples: growing }))).toEqual(["goes_wrong: Its memory grows without end"]);
    expect(
      find(soak({ samples: [sample(15_000, 10), sample(60_000, 90), sample(120_000, 20), sample(180_000, 60)] })),
    ).toEqual([]);
  });
});
