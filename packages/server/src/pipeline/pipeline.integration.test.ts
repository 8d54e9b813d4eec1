import type { ServerResponse } from "node:http";
import { RunReport } from "@tourney/core/contract";
import { type Bar, readBar, type ScopeProgress } from "@tourney/core/pipeline";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { sendError, sendStream, startFakeEndpoint } from "../../test-support/fake-endpoint.js";
import { ANSWER, markRecorded, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import type { PipelineRequest } from "./service.js";

let server: TestServer;
let stop: () => Promise<void>;
let endpoint: Awaited<ReturnType<typeof startFakeEndpoint>>;
/** What the endpoint does with a request. */
let answer: (response: ServerResponse) => void;
/** Each test has a suite and entrants of its own. */
let suite: string;
let entrants: string;

const answerWell = (response: ServerResponse) => sendStream(response, ANSWER);

beforeAll(async () => {
  server = await startTestServer();
  stop = await server.keepRunning();
});
beforeEach(async () => {
  answer = answerWell;
  endpoint = await startFakeEndpoint((_, response) => answer(response));
  const own = endpoint.baseUrl.replace(/\D/g, "");
  suite = suiteYaml("one", "two").replace("key: a-suite", `key: suite-${own}`);
  entrants = JSON.stringify({
    format: "tourney-entrants/1",
    entrants: ["gorse", "heath"].map((key) => ({
      key: `${key}-${own}`,
      name: `${key} ${own}`,
      endpoint: { protocol: "chat-completions", baseUrl: endpoint.baseUrl },
      model: "the-model",
      prices: { input: 10, output: 20 },
    })),
  });
});
afterEach(() => endpoint.close());
afterAll(async () => {
  await stop();
  await server.close();
});

const toBar = (text: string): Bar => readBar(text) as Bar;

/** Runs as a script does. There is no render worker here: what is to be recorded is marked as recorded, at once unless told otherwise. */
async function run(more: Partial<PipelineRequest> = {}, { records = true } = {}): Promise<RunReport> {
  const request: PipelineRequest = {
    ...{ suite, entrants, only: null, takes: 1, budgetUsd: null, mendRounds: 0, acceptedWhy: null, bars: [] },
    ...{ waits: true, timeoutMs: 60_000, patienceMs: 60_000 },
    ...more,
  };
  const record = ({ toRecord, underWay }: ScopeProgress) => {
    if (records && toRecord > 0 && underWay === 0) void markRecorded(server);
  };
  const report = await server.services.pipeline.run(request, record);
  // What is printed is what its schema says.
  return RunReport.parse(JSON.parse(JSON.stringify(report)));
}

describe("a run from a script", () => {
  it("asks every entrant every prompt, waits for the recordings, and asks nothing a second time", async () => {
    const report = await run({ bars: [toBar("broken>5%"), toBar("undelivered>0%")] });
    expect(report).toMatchObject({ end: "finished", exitCode: 0, prompts: ["one", "two"], takes: 1 });
    expect(report.bars.map(({ met }) => met)).toEqual([true, true]);
    const places = { planned: 2, pages: 2, none: 0, owed: 0, clean: 2, tried: 2, failures: [], findings: [] };
    expect(report.entrants).toMatchObject([places, places]);
    // 100 tokens at 10 $ a million, and 200 at 20 $.
    expect(report.entrants[0]!.costPerEntryUsd).toBeCloseTo(0.005, 9);
    expect(report.spentUsd).toBeCloseTo(0.02, 9);
    expect(endpoint.requests).toHaveLength(4);

    const again = await run();
    expect(again).toMatchObject({ end: "finished", runs: [], spentUsd: 0, entrants: report.entrants });
    expect(endpoint.requests).toHaveLength(4);
    // One prompt more of each is all that a second take of one prompt asks.
    expect((await run({ only: ["two"], takes: 2 })).entrants).toMatchObject([{ planned: 2, pages: 2 }, { pages: 2 }]);
    expect(endpoint.requests).toHaveLength(6);
    // Takes that nobody asks about are not counted.
    expect((await run({ only: ["two"], takes: 1 })).entrants).toMatchObject([{ planned: 1, pages: 1 }, { pages: 1 }]);
  });

  it("that does not wait comes back with what was started", async () => {
    const report = await run({ waits: false });
    expect(report).toMatchObject({ end: "started", exitCode: 0, runs: [{ number: 1 }] });
    expect((await run()).end).toBe("finished");
  });

  it("ends as spent where the budget does not cover all of it", async () => {
    const report = await run({ budgetUsd: 0.000_001 });
    expect(report).toMatchObject({ end: "spent", exitCode: 3 });
    expect(endpoint.requests.length).toBeLessThan(4);
    expect(report.entrants.reduce((sum, { owed }) => sum + owed, 0)).toBeGreaterThan(0);
    expect((await run()).end).toBe("finished");
  });

  it("ends where an endpoint does not answer, asks no more, and asks what failed when it is run again", async () => {
    answer = (response) => sendError(response, 400, "no such model");
    const report = await run();
    expect(report).toMatchObject({ end: "endpoint_down", exitCode: 4 });
    const failures = report.entrants.flatMap((entrant) => entrant.failures);
    expect(failures).toMatchObject([{ cause: "bad_request", places: 2 }, { places: 2 }]);
    expect(failures[0]!.message).toContain("no such model");
    answer = answerWell;
    const again = await run();
    expect(again).toMatchObject({ end: "finished", entrants: [{ pages: 2, failures: [] }, { pages: 2 }] });
    expect(again.runs).toEqual(report.runs);
  });

  it("asks again what failed without a word of why, and what could not be taken out of its answer", async () => {
    await run();
    const { Attempt, Generation, Entry, Render } = server.db.models;
    const [first, second] = await Generation.findAll({ order: [["created_at", "DESC"]], limit: 2 });
    const entries = await Entry.findAll({ where: { generationId: [first!.id, second!.id] } });
    const ids = entries.map(({ id }) => id);
    await Render.destroy({ where: { entryId: ids } });
    await Entry.destroy({ where: { id: ids } });
    await Attempt.destroy({ where: { generationId: first!.id } });
    await first!.update({ state: "failed", answer: null, failures: [] });
    await second!.update({ outcome: "untaken" });
    const again = await run();
    expect(again).toMatchObject({ end: "finished", entrants: [{ pages: 2, failures: [] }, { pages: 2 }] });
    expect(endpoint.requests).toHaveLength(5);
  });

  it("gives up on an endpoint that asks to be left alone for long, and nothing is sent later", async () => {
    answer = (response) => sendError(response, 503, "down", { "retry-after": "60" });
    const report = await run({ patienceMs: 500 });
    expect(report).toMatchObject({ end: "endpoint_down", exitCode: 4 });
    const sent = endpoint.requests.length;
    answer = answerWell;
    await server.retryJobs();
    expect(endpoint.requests).toHaveLength(sent);
  });

  it("ends below the bar where an entrant passes a bound, and says which", async () => {
    answer = (response) => sendStream(response, "I'm sorry, I can't do that.");
    const report = await run({ bars: [toBar("undelivered>10%"), toBar("cost>1")] });
    expect(report).toMatchObject({ end: "below_the_bar", exitCode: 5 });
    const failing = report.entrants.map(({ key }) => ({ key, value: 1 }));
    expect(report.bars).toMatchObject([
      { met: false, failing },
      { met: true, failing: [] },
    ]);
  });

  it("waits no longer than it is given", async () => {
    const report = await run({ timeoutMs: 1500 }, { records: false });
    expect(report).toMatchObject({ end: "timed_out", exitCode: 6 });
    await markRecorded(server);
  });

  it("sends nothing for a prompt that is not there, or for entrants that are not alike without a word of why", async () => {
    await expect(run({ only: ["three"] })).rejects.toThrow("There is no prompt three in the suite");
    const file = JSON.parse(entrants) as { entrants: { settings?: object }[] };
    file.entrants[0]!.settings = { temperature: 0.2 };
    const unlike = JSON.stringify(file);
    await expect(run({ entrants: unlike })).rejects.toThrow("not alike");
    expect(endpoint.requests).toHaveLength(0);
    expect((await run({ entrants: unlike, acceptedWhy: "to see what it does" })).end).toBe("finished");
  });
});
