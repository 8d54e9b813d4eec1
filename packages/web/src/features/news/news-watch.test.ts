import type { Panel, Run, StoppingState } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { RUN } from "../../../test-support/fixtures.js";
import { PANEL } from "../../../test-support/panel-fixtures.js";
import { NewsWatch, PANEL_STILL_MS, RUN_STILL_MS } from "./news-watch.js";

const run = (counts: Partial<Run["counts"]>, more: Partial<Run> = {}): Run => ({
  ...RUN,
  ...more,
  counts: { ...RUN.counts, ...counts },
});
const ENDED = { queued: 0, running: 0, answered: 8, recorded: 6, toRecord: 8 };
const titles = (watch: NewsWatch, of: { runs?: Run[]; panels?: Panel[] }, nowMs = 0) =>
  watch.look({ runs: of.runs ?? [], panels: of.panels ?? [] }, nowMs).map(({ title }) => title);

describe("news of runs", () => {
  it("tell of the end once, then of the last recording, and of nothing that had ended before", () => {
    const watch = new NewsWatch();
    expect(titles(new NewsWatch(), { runs: [run(ENDED)] })).toEqual([]);
    expect(titles(watch, { runs: [run({})] })).toEqual([]);
    expect(titles(watch, { runs: [run(ENDED)] })).toEqual(["Run 1 has ended"]);
    expect(titles(watch, { runs: [run(ENDED)] })).toEqual([]);
    expect(titles(watch, { runs: [run({ ...ENDED, recorded: 8 })] })).toEqual(["Run 1 is recorded"]);
    expect(titles(watch, { runs: [run({ ...ENDED, recorded: 8 })] })).toEqual([]);
  });

  it("tell of a spent budget, and count what failed as trouble", () => {
    const watch = new NewsWatch();
    watch.look({ runs: [run({})], panels: [] }, 0);
    expect(titles(watch, { runs: [run({ held: 1, running: 0 })] })).toEqual(["Run 1 has spent its budget"]);
    const [ended] = watch.look({ runs: [run({ ...ENDED, failed: 2 })], panels: [] }, 0);
    expect(ended).toMatchObject({ isTrouble: true, detail: "8 of 10 answers came, 2 failed." });
  });

  it("tell once of one in which nothing moves, but not of one that is paused or held by its budget", () => {
    const watch = new NewsWatch();
    const at = (nowMs: number, one: Run) => titles(watch, { runs: [one] }, nowMs);
    expect(at(0, run({}))).toEqual([]);
    expect(at(RUN_STILL_MS - 1, run({}))).toEqual([]);
    expect(at(RUN_STILL_MS, run({}))).toEqual(["Run 1 stands still"]);
    expect(at(RUN_STILL_MS * 2, run({}))).toEqual([]);
    // It moves, and stands still once more.
    expect(at(RUN_STILL_MS * 3, run({ answered: 7 }))).toEqual([]);
    expect(at(RUN_STILL_MS * 4, run({ answered: 7 }))).toEqual(["Run 1 stands still"]);
    for (const idle of [run({}, { pausedAt: "2026-01-01T00:00:00.000Z" }), run({ queued: 2, running: 0, held: 2 })]) {
      const other = new NewsWatch();
      other.look({ runs: [idle], panels: [] }, 0);
      expect(titles(other, { runs: [idle] }, RUN_STILL_MS * 9)).toEqual([]);
    }
  });
});

describe("news of panels", () => {
  const castAt = "2026-01-01T00:00:00.000Z";
  const panel = (...ballots: number[]): Panel => ({
    ...PANEL,
    quota: 5,
    voters: ballots.map((n) => ({ ...PANEL.voters[0]!, ballots: n, revoked: false, lastBallotAt: castAt })),
  });

  it("tell when the last voter is done", () => {
    const watch = new NewsWatch();
    const now = Date.parse(castAt);
    titles(watch, { panels: [panel(5, 4)] }, now);
    expect(titles(watch, { panels: [panel(5, 5)] }, now)).toEqual([`${PANEL.title}: every voter is done`]);
    expect(titles(watch, { panels: [panel(5, 5)] }, now + PANEL_STILL_MS * 2)).toEqual([]);
  });

  it("tell when nobody has voted for a day, once", () => {
    const watch = new NewsWatch();
    const now = Date.parse(castAt);
    titles(watch, { panels: [panel(5, 4)] }, now + PANEL_STILL_MS - 1);
    expect(titles(watch, { panels: [panel(5, 4)] }, now + PANEL_STILL_MS)).toEqual([
      `${PANEL.title}: nobody has voted for a day`,
    ]);
    expect(titles(watch, { panels: [panel(5, 4)] }, now + PANEL_STILL_MS + 1)).toEqual([]);
  });

  it("tell when it closes with voters who are not done", () => {
    const watch = new NewsWatch();
    const closing = { ...panel(5, 4), closesAt: castAt };
    titles(watch, { panels: [closing] }, Date.parse(castAt) - 1);
    const [closed] = watch.look({ runs: [], panels: [closing] }, Date.parse(castAt));
    expect(closed).toMatchObject({ title: "Friends has closed", detail: "1 voter is not done.", isTrouble: true });
  });

  it("tell when the lead closed it between two looks, also where the last look was after that", () => {
    const watch = new NewsWatch();
    const now = Date.parse(castAt);
    titles(watch, { panels: [panel(5, 4)] }, now + 10);
    const closed = { ...panel(5, 4), closesAt: castAt };
    expect(titles(watch, { panels: [closed] }, now + 20)).toEqual(["Friends has closed"]);
    expect(titles(watch, { panels: [closed] }, now + 30)).toEqual([]);
  });
});

describe("news of the stopping plan", () => {
  const plan = {
    ...{ id: "00000000-0000-4000-8000-000000000070", goal: { kind: "first" as const, count: 1 }, mostBallots: 500 },
    ...{ looks: 2, ballotsBefore: 0, setAt: "2026-11-26T00:00:00.000Z", givenUpAt: null },
  };
  const state = (more: Partial<StoppingState>): StoppingState => ({
    ...{ plan, earlier: [], ballots: 10, looks: [], metAfter: null, isOver: false },
    ...more,
  });
  const tell = (before: StoppingState, now: StoppingState) => {
    const watch = new NewsWatch();
    const at = (stopping: StoppingState) => watch.look({ runs: [], panels: [], stopping }, 0).map(({ title }) => title);
    return [at(before), at(now), at(now)];
  };

  it("tell once that it is met, or that its last look was taken without, and nothing of what was so before", () => {
    const met = state({ metAfter: 250, isOver: true });
    expect(tell(state({}), met)).toEqual([[], ["The stopping plan is met"], []]);
    expect(tell(state({}), state({ isOver: true }))[1]).toEqual(["The stopping plan ends without being met"]);
    expect(tell(met, met)).toEqual([[], [], []]);
    expect(tell(state({ plan: null }), met)[1]).toEqual([]);
  });
});
