import type { ServerResponse } from "node:http";
import type { EntryDetail, RunDetail, Wall } from "@tourney/core/contract";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { sendError, sendStream, startFakeEndpoint } from "../../test-support/fake-endpoint.js";
import { createExtractJob } from "../entries/extract-job.js";
import { ANSWER, entrantInput, PAGE, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let editionId: string;
let promptIds: string[];
const closing: (() => Promise<void>)[] = [];

beforeAll(async () => {
  server = await startTestServer();
  const { edition } = await server.services.suites.importSuite(suiteYaml("one"));
  editionId = edition.id;
  promptIds = edition.prompts.map(({ id }) => id);
});
afterEach(async () => {
  for (const close of closing.splice(0)) await close();
});
afterAll(() => server.close());

let numbered = 0;

/** Runs the one prompt with a new entrant at an endpoint that answers as told. */
async function runAgainst(answer: (response: ServerResponse, attempt: number) => void, more: object = {}) {
  const endpoint = await startFakeEndpoint((_request, response, attempt) => answer(response, attempt));
  closing.push(endpoint.close);
  const { id } = await server.services.entrants.add(entrantInput(`entrant-${++numbered}`, endpoint.baseUrl, more));
  const run = await server.services.runs.start({ editionId, promptIds, entrantIds: [id], takes: 1 });
  await server.runJobs();
  const detail: RunDetail = await server.services.runs.getDetail(run.id);
  const wall: Wall = await server.services.wall.getWall(editionId);
  return { endpoint, detail, cell: wall.cells.find(({ entrantId }) => entrantId === id)! };
}

const entryOf = async (entryId: string | null): Promise<EntryDetail> => server.services.entries.getDetail(entryId!);

describe("a generation", () => {
  it("stores text, usage, timings, cost, finish reason and the reported model, and becomes an entry to record", async () => {
    const { detail, cell } = await runAgainst((response) => sendStream(response, ANSWER, { model: "the-model-0425" }));
    expect(detail).toMatchObject({ counts: { answered: 1, failed: 0 }, inputTokens: 100, outputTokens: 200 });
    expect(detail.costUsd).toBeCloseTo((100 * 10 + 200 * 20) / 1e6, 10);
    expect(cell.state).toBe("recording");
    const entry = await entryOf(cell.entryId);
    expect(entry).toMatchObject({
      verdict: "ok",
      kind: "html",
      entryPath: "index.html",
      fileTexts: [{ path: "index.html", text: `${PAGE}\n` }],
    });
    expect(entry.generation).toMatchObject({
      answer: ANSWER,
      finishReason: "stop",
      requestedModel: "the-model",
      reportedModel: "the-model-0425",
      attempts: 1,
    });
    expect(entry.generation.timings!.totalMs).toBeGreaterThan(0);
    const jobs = await server.db.select(
      z.object({ key: z.string() }),
      "SELECT key FROM graphile_worker.jobs WHERE task_identifier = 'render'",
    );
    expect(jobs).toHaveLength(1);
  });

  it("sends what is pinned and nothing else, with the key in its header alone", async () => {
    server.keys["HEATH_KEY"] = "secret-of-heath";
    const fake = await startFakeEndpoint((_request, response) => sendStream(response, ANSWER));
    closing.push(fake.close);
    const input = entrantInput("keyed", fake.baseUrl, { settings: { temperature: 0.3 } });
    const { id } = await server.services.entrants.add({
      ...input,
      endpoint: { protocol: "chat-completions", baseUrl: fake.baseUrl, concurrency: 1, keyVariable: "HEATH_KEY" },
    });
    await server.services.runs.start({ editionId, promptIds, entrantIds: [id], takes: 1 });
    await server.runJobs();
    expect(fake.requests[0]!.headers.authorization).toBe("Bearer secret-of-heath");
    const wall = await server.services.wall.getWall(editionId);
    const { generation } = await entryOf(wall.cells.find(({ entrantId }) => entrantId === id)!.entryId);
    expect(generation.request).toMatchObject({ model: "the-model", temperature: 0.3, stream: true });
    expect(generation.request).not.toHaveProperty("top_p");
    const everything = await server.db.select(
      z.object({ row: z.string() }),
      "SELECT row_to_json(g)::text || row_to_json(n)::text AS row FROM generations g, entrants n",
    );
    expect(everything.some(({ row }) => row.includes("secret-of-heath"))).toBe(false);
  });

  it("never stores or tells a key, even when the endpoint repeats it in its error", async () => {
    server.keys["HEATH_KEY"] = "secret-of-heath";
    const fake = await startFakeEndpoint((_request, response) =>
      sendError(response, 401, "Incorrect key: secret-of-heath"),
    );
    closing.push(fake.close);
    const { id } = await server.services.entrants.add({
      ...entrantInput("echoed", fake.baseUrl),
      endpoint: { protocol: "chat-completions", baseUrl: fake.baseUrl, concurrency: 1, keyVariable: "HEATH_KEY" },
    });
    const run = await server.services.runs.start({ editionId, promptIds, entrantIds: [id], takes: 1 });
    await server.runJobs();
    const detail = await server.services.runs.getDetail(run.id);
    expect(detail.failures[0]!.message).toBe("401: Incorrect key: [key]");
    const attempts = await server.db.select(
      z.object({ row: z.string() }),
      "SELECT row_to_json(a)::text AS row FROM attempts a",
    );
    expect(attempts.some(({ row }) => row.includes("secret-of-heath"))).toBe(false);
  });

  it("is sent again after a busy answer, and says how often", async () => {
    const { detail, cell } = await runAgainst((response, attempt) => {
      if (attempt === 1) sendError(response, 429, "Busy", { "Retry-After": "0" });
      else sendStream(response, ANSWER);
    });
    expect(detail.counts.answered).toBe(1);
    const { generation } = await entryOf(cell.entryId);
    expect(generation).toMatchObject({ attempts: 2, failures: [{ cause: "rate_limited", httpStatus: 429 }] });
  });

  it.each([
    [
      "a wrong key",
      (response: ServerResponse) => sendError(response, 401, "Incorrect key"),
      "unauthorized",
      1,
      /401: Incorrect key/,
    ],
    [
      "an unknown model",
      (response: ServerResponse) => sendError(response, 404, "No such model"),
      "bad_request",
      1,
      /404: No such model/,
    ],
    [
      "an endpoint in trouble",
      (response: ServerResponse) => sendError(response, 503, "Overloaded"),
      "server_error",
      3,
      /503: Overloaded/,
    ],
    [
      "a stream that is cut",
      (response: ServerResponse) => sendStream(response, "Here it", { cut: true }),
      "cut_stream",
      3,
      /ended before/,
    ],
    [
      "a connection that breaks",
      (response: ServerResponse) => response.destroy(),
      "unreachable",
      3,
      /cannot be reached/,
    ],
    [
      "a web page instead of an answer",
      (response: ServerResponse) => response.writeHead(404, { "Content-Type": "text/html" }).end("<h1>Not found</h1>"),
      "bad_request",
      1,
      /404/,
    ],
  ] as const)("fails clearly on %s, as often as it is worth", async (_what, answer, cause, attempts, message) => {
    const { detail, cell } = await runAgainst((response) => void answer(response));
    expect(detail.counts).toMatchObject({ answered: 0, failed: 1 });
    expect(detail.failures[0]).toMatchObject({
      cause,
      message: expect.stringMatching(message) as unknown,
      count: 1,
      places: [{ attempts }],
    });
    expect(detail.failures[0]!.remedy).not.toBe("");
    expect(cell).toMatchObject({ state: "failed", entryId: null });
  });

  it("is not sent at all without its key", async () => {
    const fake = await startFakeEndpoint((_request, response) => sendStream(response, ANSWER));
    closing.push(fake.close);
    const { id } = await server.services.entrants.add({
      ...entrantInput("keyless", fake.baseUrl),
      endpoint: { protocol: "chat-completions", baseUrl: fake.baseUrl, concurrency: 1, keyVariable: "NO_SUCH_KEY" },
    });
    const run = await server.services.runs.start({ editionId, promptIds, entrantIds: [id], takes: 1 });
    await server.runJobs();
    expect(fake.requests).toHaveLength(0);
    expect((await server.services.runs.getDetail(run.id)).failures[0]).toMatchObject({
      cause: "key_missing",
      message: expect.stringContaining("NO_SUCH_KEY is not set") as unknown,
    });
  });

  it("can be retried once the cause is mended, in the same place", async () => {
    let isMended = false;
    const { detail } = await runAgainst((response) =>
      isMended ? sendStream(response, ANSWER) : sendError(response, 401, "Incorrect key"),
    );
    isMended = true;
    await server.services.runs.retry(detail.id);
    await server.runJobs();
    expect((await server.services.runs.getDetail(detail.id)).counts).toMatchObject({
      total: 1,
      answered: 1,
      failed: 0,
    });
  });

  it("is never planned twice for one cell and take", async () => {
    const { detail } = await runAgainst((response) => sendStream(response, ANSWER));
    const entrantIds = detail.byEntrant.map(({ entrantId }) => entrantId);
    await expect(server.services.runs.start({ editionId, promptIds, entrantIds, takes: 1 })).rejects.toThrow(
      "nothing to run",
    );
    expect((await server.services.runs.start({ editionId, promptIds, entrantIds, takes: 2 })).counts.total).toBe(1);
  });
});

describe("a full disk", () => {
  it("is said on the cell, loses nothing, and is over when there is space again", async () => {
    const fake = await startFakeEndpoint((_request, response) => sendStream(response, ANSWER));
    closing.push(fake.close);
    const { id } = await server.services.entrants.add(entrantInput("patient", fake.baseUrl));
    await server.services.runs.start({ editionId, promptIds, entrantIds: [id], takes: 1 });
    const cellNow = async () =>
      (await server.services.wall.getWall(editionId)).cells.find(({ entrantId }) => entrantId === id)!;
    const full = createExtractJob({
      ...server.services.extractDeps,
      blobs: {
        ...server.services.blobs,
        put: () => Promise.reject(Object.assign(new Error("write"), { code: "ENOSPC" })),
      },
    });
    await server.runJobs({ extract: full });
    expect(await cellNow()).toMatchObject({
      state: "recording",
      entryId: null,
      detail: expect.stringContaining("The disk is full") as unknown,
    });
    const [{ answer } = { answer: null }] = await server.db.select(
      z.object({ answer: z.string() }),
      "SELECT answer FROM generations WHERE entrant_id = $1",
      [id],
    );
    expect(answer).toBe(ANSWER);
    await server.retryJobs();
    expect((await entryOf((await cellNow()).entryId)).verdict).toBe("ok");
  });
});

describe("an answer by hand", () => {
  it("goes through the same extraction, once, and overwrites nothing", async () => {
    const { key } = await server.services.entrants.add({
      ...entrantInput("handmade", "http://localhost:1/v1"),
      endpoint: { protocol: "by-hand" },
    });
    const add = (text: string, take = 1) =>
      server.services.entries.addHandAnswer(editionId, { promptKey: "one", entrantKey: key, take, text });
    const first = await add(ANSWER);
    expect(first).toMatchObject({ verdict: "ok", created: true });
    expect(await add(ANSWER)).toEqual({ ...first, created: false });
    await expect(add("Another answer")).rejects.toThrow("has take 1 of one already");
    expect(await add("I'm sorry, I can't do that.", 2)).toMatchObject({ verdict: "refusal", created: true });
    await expect(
      server.services.entries.addHandAnswer(editionId, { promptKey: "none", entrantKey: key, take: 1, text: "x" }),
    ).rejects.toThrow('no prompt "none"');
  });
});
