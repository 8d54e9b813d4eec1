import { describe, expect, it } from "vitest";
import { describeDemoProgress } from "./demo-progress.js";

const progress = { rows: 14, rowsReady: 2, toRecord: 112, recorded: 20, ballots: 160, ballotsPlanned: 1560 };

describe("how far the demo is", () => {
  it.each([
    [null, "how long it takes is known in a minute"],
    [29, "less than a minute left"],
    [80, "about a minute left"],
    [170, "about 3 minutes left"],
  ])("is told in one line, with %s s left", (remainingSeconds, end) => {
    expect(describeDemoProgress({ ...progress, remainingSeconds })).toBe(
      `20 of 112 outputs recorded, 2 of 14 rows ready to vote on, 160 of 1,560 sample ballots; ${end}`,
    );
  });
});
