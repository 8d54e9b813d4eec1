import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { PipelineEntrant } from "../contract/index.js";
import { type Bar, findEnd, findFailing, isSettled, isStuck, MEASURES, readBar, type ScopeProgress } from "./index.js";

const entrant = (more: Partial<PipelineEntrant>): PipelineEntrant => ({
  ...{ key: "gorse", name: "Gorse", version: 1, model: "gorse", planned: 20, pages: 18, none: 2, owed: 0 },
  ...{ clean: 19, tried: 20, costPerEntryUsd: 0.2, medianSeconds: 12, findings: [], failures: [] },
  ...more,
});
const bar = (text: string): Bar => {
  const read = readBar(text);
  if (typeof read === "string") throw new Error(read);
  return read;
};
const fails = (text: string, more: Partial<PipelineEntrant> = {}) => findFailing(bar(text), [entrant(more)]).length > 0;

describe("a bar", () => {
  it("is passed by who stays within it, and the limit itself is within", () => {
    expect(fails("broken>5%")).toBe(false);
    expect(fails("broken>=5%")).toBe(true);
    expect(fails("broken > 4.9 %")).toBe(true);
    expect(fails("broken>0.04")).toBe(true);
    expect(fails("undelivered>10%")).toBe(false);
    expect(fails("undelivered>9%")).toBe(true);
    expect(fails("cost>0.1")).toBe(true);
    expect(fails("seconds<15")).toBe(true);
    expect(fails("seconds<=12")).toBe(true);
    expect(fails("seconds<12")).toBe(false);
  });

  it("says who fails it, and by what", () => {
    const failing = findFailing(bar("owed>0"), [entrant({}), entrant({ key: "heath", owed: 5 })]);
    expect(failing).toEqual([{ key: "heath", value: 0.25 }]);
  });

  it("does not fail who has nothing to be judged by", () => {
    expect(fails("broken>0%", { clean: 0, tried: 0 })).toBe(false);
    expect(fails("cost>0", { costPerEntryUsd: null })).toBe(false);
  });

  it("that cannot be read says why", () => {
    expect(readBar("broken")).toContain("NAME>LIMIT");
    expect(readBar("broken>-1")).toContain("NAME>LIMIT");
    expect(readBar("beauty>5%")).toContain("there is no measure beauty; there are broken,");
    expect(readBar("constructor>5%")).toContain("there is no measure constructor");
    expect(readBar("cost>5%")).toContain("has no %");
    expect(readBar("broken>5")).toContain("broken>5%");
  });

  it("fails exactly those beyond its limit, for every measure and limit", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...(Object.keys(MEASURES) as (keyof typeof MEASURES)[])),
        fc.constantFrom(">", "<", ">=", "<="),
        fc.integer({ min: 0, max: 100 }),
        fc.integer({ min: 0, max: 20 }),
        (measure, operator, percent, clean) => {
          const of = entrant({
            clean,
            none: clean,
            owed: clean,
            costPerEntryUsd: clean / 20,
            medianSeconds: clean / 20,
          });
          const limit = MEASURES[measure].isShare ? `${percent}%` : `${percent / 100}`;
          const value = MEASURES[measure].read(of)!;
          const wanted = {
            ">": value > percent / 100,
            "<": value < percent / 100,
            ">=": value >= percent / 100,
            "<=": value <= percent / 100,
          }[operator];
          expect(findFailing(bar(`${measure}${operator}${limit}`), [of]).length > 0).toBe(wanted);
        },
      ),
    );
  });
});

describe("a run from a script", () => {
  const at = (more: Partial<ScopeProgress>): ScopeProgress => ({
    ...{ total: 4, underWay: 0, running: 0, answered: 4, failed: 0, held: 0, extracting: 0, toRecord: 0, paused: 0 },
    ...more,
  });

  it("has come to rest once nothing is sent, taken out or recorded", () => {
    expect(isSettled(at({}))).toBe(true);
    for (const name of ["underWay", "extracting", "toRecord"] as const)
      expect(isSettled(at({ [name]: 1 }))).toBe(false);
  });

  it("is stuck where something is to be sent and nothing is being sent", () => {
    expect(isStuck(at({ underWay: 2 }))).toBe(true);
    expect(isStuck(at({ underWay: 2, running: 1 }))).toBe(false);
    expect(isStuck(at({ toRecord: 1 }))).toBe(false);
  });

  it("ends by what explains the rest", () => {
    const well = { wasStuck: false, areBarsMet: true };
    expect(findEnd(at({}), well)).toBe("finished");
    expect(findEnd(at({}), { ...well, areBarsMet: false })).toBe("below_the_bar");
    expect(findEnd(at({ failed: 1 }), { ...well, areBarsMet: false })).toBe("endpoint_down");
    expect(findEnd(at({}), { ...well, wasStuck: true })).toBe("endpoint_down");
    expect(findEnd(at({ held: 1, failed: 1 }), { ...well, areBarsMet: false })).toBe("spent");
  });
});
