import { summarizeCells } from "@tourney/core/standings";
import { describe, expect, it } from "vitest";
import { RENDERER_VERSION } from "@tourney/core/contract";
import type { CellFacts, CellRow } from "./wall-queries.sql.js";
import { tallyCells } from "./cell-figures.js";
import { describeCell, stateOf } from "./service.js";

const summarize = (facts: readonly CellFacts[]) => summarizeCells([tallyCells(facts)]);

const ROW: CellRow = {
  wordingId: "00000000-0000-4000-8000-000000000005",
  promptId: "00000000-0000-4000-8000-000000000001",
  entrantId: "00000000-0000-4000-8000-000000000002",
  versionId: "00000000-0000-4000-8000-000000000004",
  take: 1,
  entryId: "00000000-0000-4000-8000-000000000003",
  answeredAt: null,
  state: "answered",
  outcome: "answered",
  verdict: "ok",
  hasEntry: true,
  hasPage: true,
  renderState: "recorded",
  hasError: false,
  failures: [],
  outcomeDetail: null,
  isMismatch: false,
  isMismatchAccepted: false,
  offTask: null,
  isOtherRecipe: false,
  reportedModel: "m",
  requestedModel: "m",
  renderError: null,
  rendererVersion: RENDERER_VERSION,
  picture: null,
  entries: 1,
  motion: [],
  findings: [],
};
const failure = (message: string, cause: CellRow["failures"][number]["cause"] = "server_error") => ({
  cause,
  message,
  remedy: "Wait.",
  at: "2026-01-01T00:00:00.000Z",
});

describe("what a cell shows", () => {
  const cases: [string, Partial<CellRow>, ReturnType<typeof describeCell>][] = [
    ["waits for a turn", { state: "waiting" }, { state: "queued", detail: "Waits for the turn before" }],
    ["waits", { state: "queued" }, { state: "queued", detail: null }],
    [
      "waits after a failure",
      { state: "queued", failures: [failure("503: Busy.")] as CellRow["failures"] },
      { state: "queued", detail: "503: Busy. Trying again." },
    ],
    ["is held", { state: "held", outcomeDetail: "Over budget" }, { state: "held", detail: "Over budget" }],
    ["is being answered", { state: "running" }, { state: "running", detail: null }],
    ["was cancelled", { state: "cancelled" }, { state: "missing", detail: "Cancelled" }],
    [
      "has failed",
      { state: "failed", failures: [failure("401: Incorrect key")] as CellRow["failures"] },
      { state: "failed", detail: "401: Incorrect key" },
    ],
    ["is taken out", { verdict: null, renderState: null }, { state: "recording", detail: "Taking out the artifact" }],
    [
      "cannot be stored",
      { verdict: null, failures: [failure("The disk is full.", "storage")] as CellRow["failures"] },
      { state: "recording", detail: "The disk is full. Wait. It is tried again by itself." },
    ],
    ["was refused", { verdict: "refusal", hasPage: false }, { state: "refused", detail: "Declined to answer" }],
    [
      "has no page",
      { verdict: "no_artifact", hasPage: false },
      { state: "no_artifact", detail: "Nothing a browser can run" },
    ],
    ["is empty", { verdict: "empty", hasPage: false }, { state: "no_artifact", detail: "Empty answer" }],
    ["is being recorded", { renderState: "queued" }, { state: "recording", detail: null }],
    [
      "could not be recorded",
      { renderState: "failed", renderError: "The browser is missing." },
      { state: "failed", detail: "The browser is missing." },
    ],
    ["is recorded", {}, { state: "recorded", detail: null }],
    ["was cut off", { verdict: "truncated" }, { state: "recorded", detail: "Cut off" }],
    [
      "was answered by another model",
      { isMismatch: true, reportedModel: "other" },
      { state: "recorded", detail: "Answered by other, asked for m; not voted on" },
    ],
    [
      "is something else than was asked for",
      { outcome: "wrong_thing", outcomeDetail: "A component" },
      { state: "recorded", detail: "A component" },
    ],
  ];
  it.each(cases)("%s", (_, more, shown) => {
    expect(describeCell({ ...ROW, ...more })).toEqual(shown);
    expect(stateOf({ ...ROW, ...more })).toBe(shown.state);
  });
});

describe("the figures of an entrant", () => {
  const fact = (more: Partial<CellFacts>): CellFacts => ({
    ...ROW,
    isHelped: false,
    cells: 1,
    takes: 1,
    costUsd: null,
    costed: 0,
    ...{ tokens: 0, tokened: 0, timedTokens: 0, timedMs: 0 },
    totalsMs: [],
    ...more,
  });

  it("are unknown while nothing is there", () => {
    expect(summarize([])).toEqual({
      cleanShare: null,
      medianTotalMs: null,
      ...{ tokensPerEntry: null, tokensPerSecond: null },
      costPerEntryUsd: null,
      delivery: { pages: 0, none: 0, owed: 0 },
    });
    expect(summarize([fact({ state: "queued", verdict: null, renderState: null, cells: 40 })]).cleanShare).toBeNull();
  });

  it("weigh each count, and take what gave nothing to record, or was helped by hand, as not clean", () => {
    const figures = summarize([
      fact({ cells: 10, isHelped: true }),
      fact({ cells: 6, costUsd: 0.6, costed: 6, totalsMs: [1, 2, 3, 4, 5, 6] }),
      fact({ cells: 2, hasError: true, costUsd: 0.4, costed: 2, totalsMs: [100, 200] }),
      fact({ cells: 1, verdict: "truncated" }),
      fact({ cells: 1, verdict: "refusal", renderState: null, hasPage: false }),
      fact({ cells: 5, renderState: "queued" }),
    ]);
    expect(figures.cleanShare).toBeCloseTo(6 / 20, 12);
    expect(figures.costPerEntryUsd).toBeCloseTo(1 / 8, 12);
    expect(figures.medianTotalMs).toBe(4.5);
  });
});
