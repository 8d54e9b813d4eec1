import { describe, expect, it } from "vitest";
import type { LogLine } from "@tourney/core/contract";
import { compareRecordings } from "./stability.js";

const line = (text: string): LogLine => ({ atMs: 0, level: "info", text, source: "console", where: null });
const clip = (pngs: string[], log: LogLine[] = [], outcome: "ok" | "hung" = "ok") => ({
  outcome,
  log,
  pictures: pngs.map((png, index) => ({ atMs: index * 500, png })),
});

describe("recordings of one page", () => {
  it("are stable when nothing differs", () => {
    const one = clip(["a", "b"], [line("x")]);
    expect(compareRecordings(one, [one, clip(["a", "b"], [line("x")])])).toEqual({
      recordings: 3,
      isStable: true,
      differing: [],
    });
  });
  it("tell each thing that differs once", () => {
    const { isStable, differing } = compareRecordings(clip(["a", "b", "c"]), [
      clip(["a", "x", "c"]),
      clip(["a", "y"], [line("new")], "hung"),
    ]);
    expect(isStable).toBe(false);
    expect(differing).toEqual(["frame at 0.5 s", "outcome (ok, hung)", "number of frames (3, 2)", "log"]);
  });
});
