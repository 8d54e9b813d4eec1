import type { JudgedEntry, Wall } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { findNextUnjudged, listJudged, listQueue, readScope, stepInQueue } from "./judge-queue.js";

const wall = {
  prompts: ["lock", "tide"].map((id) => ({ id, kind: id === "lock" ? "game" : "app" })),
  entrants: ["n1", "n2", "n3"].map((id) => ({ id, version: { id: `v-${id}` } })),
  cells: ["tide", "lock"].flatMap((promptId) =>
    ["n3", "n1", "n2"].map((entrantId) => ({
      promptId,
      entrantId,
      versionId: `v-${entrantId}`,
      entryId: promptId === "tide" && entrantId === "n2" ? null : `${promptId} ${entrantId}`,
    })),
  ),
} as unknown as Wall;
const scope = (search = "") => readScope(new URLSearchParams(search));

describe("the queue of entries to be judged", () => {
  it("goes row by row in the order of the columns, without cells that have no entry", () => {
    expect(listQueue(wall, scope())).toEqual(["lock n1", "lock n2", "lock n3", "tide n1", "tide n3"]);
    expect(listQueue(wall, scope("kind=app"))).toEqual(["tide n1", "tide n3"]);
    expect(listQueue(wall, scope("entrant=n3"))).toEqual(["lock n3", "tide n3"]);
  });

  it("keeps the rows and hides the columns where names are hidden, in the same order each time", () => {
    const blind = listQueue(wall, scope("blind=1"));
    expect(blind.slice(0, 3).toSorted()).toEqual(["lock n1", "lock n2", "lock n3"]);
    expect(listQueue(wall, scope("blind=1"))).toEqual(blind);
  });

  it("finds what has no verdict yet, after the present one first", () => {
    const sheets = [
      { entryId: "lock n2", judge: "Ines", verdict: "pass" },
      { entryId: "lock n3", judge: "Ines", verdict: null },
      { entryId: "lock n1", judge: "Bo", verdict: "fail" },
    ] as JudgedEntry[];
    const judged = listJudged(sheets, "Ines");
    const queue = ["lock n1", "lock n2", "lock n3"];
    expect(findNextUnjudged(queue, judged, "lock n1")).toBe("lock n3");
    expect(findNextUnjudged(queue, judged, "lock n3")).toBe("lock n1");
    expect(findNextUnjudged(queue, judged, null)).toBe("lock n1");
    expect(findNextUnjudged(["lock n2"], judged, null)).toBeNull();
    expect(findNextUnjudged(["lock n1"], judged, "lock n1")).toBeNull();
    expect(stepInQueue(queue, "lock n1", 1)).toBe("lock n2");
    expect(stepInQueue(queue, "lock n1", -1)).toBeNull();
    expect(stepInQueue(queue, "elsewhere", 1)).toBeNull();
  });
});
