import type { ServerResponse } from "node:http";
import { describe, expect, it } from "vitest";
import * as z from "zod";
import { sendError, sendStream, startStream } from "../../test-support/fake-endpoint.js";
import { ANSWER, PAGE } from "../../test-support/scenario.js";
import { withRuns } from "../../test-support/with-runs.js";
import { createGenerateJob } from "./generate-job.js";

const { edition, enter, finish, server, start } = withRuns();

async function listAttempts(runId: string) {
  const rows = await server().db.select(
    z.object({ id: z.uuid() }),
    "SELECT id FROM generations WHERE run_id = $1 ORDER BY position",
    [runId],
  );
  return (await Promise.all(rows.map(({ id }) => server().services.generations.listAttempts(id)))).flat();
}

describe("an answer that was cut at the limit", () => {
  it("is continued, joined, and counted as one", async () => {
    const half = ANSWER.length - 30;
    const bodies: string[] = [];
    const { entrantId } = await enter((response, attempt, request) => {
      request.on("data", (chunk: Buffer) => bodies.push(chunk.toString()));
      if (attempt === 1) sendStream(response, ANSWER.slice(0, half), { finish: "length" });
      else sendStream(response, ANSWER.slice(half - 10));
    });
    const run = await finish((await start(entrantId)).id);
    expect(run).toMatchObject({
      counts: { answered: 1 },
      outcomes: [{ outcome: "answered", count: 1 }],
      outputTokens: 400,
    });
    const wall = await server().services.wall.getWall(edition().id);
    const entry = await server().services.entries.getDetail(
      wall.cells.find(({ entryId }) => entryId !== null)!.entryId!,
    );
    expect(entry.fileTexts[0]!.text).toBe(`${PAGE}\n`);
    expect(entry.generation.answer).toBe(ANSWER);
    expect((await listAttempts(run.id)).map(({ purpose }) => purpose)).toEqual(["first", "continuation"]);
    expect(bodies[1]).toContain("Continue exactly where it stopped");
  });

  it("is given up after as many continuations as the run allows, and kept as far as it came", async () => {
    const { entrantId, fake } = await enter((response) =>
      sendStream(response, "```html\n<!doctype html><html><body><script>", { finish: "length" }),
    );
    const run = await finish((await start(entrantId, { options: { continuations: 1 } })).id);
    expect(run.outcomes).toEqual([{ outcome: "truncated", count: 1 }]);
    expect(fake.requests).toHaveLength(2);
  });
});

describe("a refusal", () => {
  it("is asked for again, so often and no more", async () => {
    const { entrantId } = await enter((response, attempt) =>
      sendStream(response, attempt === 1 ? "I'm sorry, but I can't help with that." : ANSWER),
    );
    expect((await finish((await start(entrantId)).id)).outcomes).toEqual([{ outcome: "answered", count: 1 }]);
    const { entrantId: stubborn, fake } = await enter((response) =>
      sendStream(response, "I'm sorry, but I can't help with that."),
    );
    expect((await finish((await start(stubborn)).id)).outcomes).toEqual([{ outcome: "refused", count: 1 }]);
    expect(fake.requests).toHaveLength(2);
  });
});

describe("a process that dies while an endpoint answers", () => {
  it("loses no more than the request in flight, which is recorded, priced and repeated", async () => {
    let first: ServerResponse | null = null;
    const { entrantId } = await enter((response, attempt) => {
      if (attempt === 1) {
        first = response;
        startStream(response, "Here it is, half of i");
      } else sendStream(response, ANSWER);
    });
    const run = await start(entrantId);
    await server().runJobs({ generate: () => Promise.resolve() });
    const [{ id }] = (await server().db.select(
      z.object({ id: z.uuid() }),
      "SELECT id FROM generations WHERE run_id = $1",
      [run.id],
    )) as [{ id: string }];
    // As a killed process leaves it: claimed, a request written down, a part of its stream stored, nothing ended.
    const dying = createGenerateJob({
      ...server().jobDeps,
      retry: { maxAttempts: 1, firstDelayMs: 0, longestDelayMs: 0 },
      circuitPauseMs: 0,
    });
    const killed = new AbortController();
    const work = dying({ generationId: id }, killed.signal).catch((error: unknown) => error);
    await expect.poll(() => server().services.generations.listLostAttempts(id)).toHaveLength(1);
    await expect.poll(() => first).not.toBeNull();
    await new Promise((resolve) => setTimeout(resolve, 100));
    killed.abort();
    expect(await work).toBeInstanceOf(Error);
    expect((await server().services.generations.listLostAttempts(id))[0]!.text).toBe("Here it is, half of i");

    await createGenerateJob({
      ...server().jobDeps,
      retry: { maxAttempts: 1, firstDelayMs: 0, longestDelayMs: 0 },
      circuitPauseMs: 0,
    })({ generationId: id }, new AbortController().signal);
    const attempts = await listAttempts(run.id);
    expect(attempts.map(({ purpose, outcome, text }) => ({ purpose, outcome, length: text.length }))).toEqual([
      { purpose: "first", outcome: "lost", length: 21 },
      { purpose: "repeat", outcome: "answered", length: ANSWER.length },
    ]);
    expect(attempts[0]!.costIsEstimate).toBe(true);
    const detail = await finish(run.id);
    expect(detail.counts).toMatchObject({ total: 1, answered: 1 });
    expect(detail.costUsd).toBeGreaterThan((100 * 10 + 200 * 20) / 1e6);
  });
});

describe("a process that is killed again and again", () => {
  it("leaves nothing behind, however often the queue has tried", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    const run = await start(entrantId);
    await server().runJobs({ generate: () => Promise.resolve() });
    // As 25 killed processes leave it: claimed, and the queue's tries used up.
    await server().db.execute("UPDATE generations SET state = 'running' WHERE run_id = $1", [run.id]);
    const [{ id }] = (await server().db.select(
      z.object({ id: z.uuid() }),
      "SELECT id FROM generations WHERE run_id = $1",
      [run.id],
    )) as [{ id: string }];
    await server().services.addJob("generate", { generationId: id }, { key: `generate:${id}` });
    await server().db.execute("UPDATE graphile_worker._private_jobs SET attempts = max_attempts WHERE key = $1", [
      `generate:${id}`,
    ]);
    expect((await finish(run.id)).counts.running).toBe(1);
    // As long as another process holds it, it is that one's.
    const hold = (by: string | null) =>
      server().db.execute(
        "UPDATE graphile_worker._private_jobs SET locked_by = $2, locked_at = CASE WHEN $2::text IS NULL THEN NULL ELSE now() END WHERE key = $1",
        [`generate:${id}`, by],
      );
    await hold("another");
    await server().services.generations.readmitAll();
    expect((await finish(run.id)).counts.running).toBe(1);
    await hold(null);
    await server().services.generations.readmitAll();
    expect((await finish(run.id)).counts).toMatchObject({ answered: 1, running: 0 });
  });
});

describe("limits", () => {
  it("hold what the budget does not cover, and go on when it is raised", async () => {
    const { entrantId, fake } = await enter((response) => sendStream(response, ANSWER), {}, { concurrency: 1 });
    // One answer costs 0.005 and is estimated from the declared defaults at 0.12.
    const { id } = await start(entrantId, { budgetUsd: 0.13 }, 4);
    const held = await finish(id);
    expect(held.counts).toMatchObject({ answered: 2, held: 2 });
    expect(held.costUsd).toBeLessThanOrEqual(0.13);
    expect(fake.requests).toHaveLength(2);
    await server().services.runs.setBudget(id, 1);
    expect((await finish(id)).counts).toMatchObject({ answered: 4, held: 0 });
  });

  it("keep an endpoint's concurrency over all its entrants", async () => {
    const open: (() => void)[] = [];
    let most = 0;
    const { entrantId } = await enter(
      (response) => {
        open.push(() => sendStream(response, ANSWER));
        most = Math.max(most, open.length);
        // The two that may be open wait for each other, and then a moment longer for one too many.
        if (open.length === 2)
          setTimeout(() => {
            for (const answer of open.splice(0)) answer();
          }, 100);
      },
      {},
      { concurrency: 2 },
    );
    const { id } = await start(entrantId, {}, 4);
    const stop = await server().keepRunning();
    await expect
      .poll(async () => (await server().services.runs.getDetail(id)).counts.answered, { timeout: 10_000 })
      .toBe(4);
    await stop();
    expect(most).toBe(2);
  });

  it("send no more requests a minute than the endpoint allows", async () => {
    const { entrantId, fake } = await enter(
      (response) => sendStream(response, ANSWER),
      {},
      { concurrency: 4, requestsPerMinute: 3 },
    );
    const run = await finish((await start(entrantId, {}, 4)).id);
    expect(fake.requests).toHaveLength(3);
    expect(run.counts).toMatchObject({ answered: 3, queued: 1 });
  });
});

describe("an endpoint that fails in a row", () => {
  it("is paused, says why, and is let through again one by one", async () => {
    let isWell = false;
    const { entrantId, fake } = await enter(
      (response) => (isWell ? sendStream(response, ANSWER) : sendError(response, 503, "Down")),
      {},
      { concurrency: 2 },
    );
    const paused = {
      ...server().jobDeps,
      retry: { maxAttempts: 9, firstDelayMs: 0, longestDelayMs: 0 },
      circuitPauseMs: 60_000,
    };
    const generate = createGenerateJob(paused);
    const { id } = await start(entrantId, {}, 4);
    await server().runJobs({ generate: (payload: unknown) => generate(payload, new AbortController().signal) });
    const down = await server().services.runs.getDetail(id);
    expect(fake.requests.length).toBeLessThanOrEqual(6);
    expect(down.endpoints[0]!.paused).toMatchObject([{ reason: expect.stringContaining("503: Down") as unknown }]);
    isWell = true;
    expect(await server().services.runs.tryEndpoint(down.endpoints[0]!.id)).toEqual({ ended: 1 });
    expect((await finish(id)).counts).toMatchObject({ answered: 4, failed: 0 });
  });
});

describe("an outage", () => {
  it("counts once for all that was under way, and leaves the other models of the endpoint alone", async () => {
    const { entrantId, fake } = await enter((response) => sendStream(response, ANSWER));
    const { id } = await start(entrantId);
    const { generations, runs } = server().services;
    const endpointId = (await runs.getDetail(id)).endpoints[0]!.id;
    const fail = (model: string, sentAt: Date) =>
      server().db.transact((transaction) =>
        generations.noteFailure(
          { endpointId, model },
          { reason: "503: Down.", sentAt: sentAt.toISOString(), threshold: 3, pauseMs: 60_000 },
          transaction,
        ),
      );
    const paused = async () => (await runs.getDetail(id)).endpoints[0]!.paused.map(({ model }) => model);
    const before = new Date(Date.now() - 1000);
    for (let n = 0; n < 8; n++) await fail("another", before);
    expect(await paused()).toEqual([]);
    for (let n = 0; n < 2; n++) await fail("another", new Date(Date.now() + 60_000));
    expect(await paused()).toEqual(["another"]);
    expect((await finish(id)).counts).toMatchObject({ answered: 1 });
    expect(fake.requests).toHaveLength(1);
  });
});

describe("streams that go wrong", () => {
  const LIMITS = { settings: { timeLimits: { firstTokenSeconds: 1, betweenTokensSeconds: 1, totalSeconds: 5 } } };
  it("stall: nothing comes, or nothing more, and what came is kept", async () => {
    const { entrantId } = await enter((response) => startStream(response, "Half"), LIMITS);
    const run = await finish((await start(entrantId)).id);
    expect(run.outcomes).toEqual([{ outcome: "stalled", count: 1 }]);
    expect(run.failures[0]).toMatchObject({ cause: "stalled", message: "No token came for 1 s." });
    expect((await listAttempts(run.id))[0]).toMatchObject({ text: "Half", costIsEstimate: true });
  }, 20_000);

  it.each([
    [
      "half an event",
      (response: ServerResponse) =>
        response.writeHead(200, { "Content-Type": "text/event-stream" }).end('data: {"choices": [{"del'),
    ],
    [
      "HTML with status 200",
      (response: ServerResponse) => response.writeHead(200, { "Content-Type": "text/html" }).end("<h1>Welcome</h1>"),
    ],
    [
      "no event at all",
      (response: ServerResponse) => response.writeHead(200, { "Content-Type": "text/event-stream" }).end(),
    ],
    [
      "another charset",
      (response: ServerResponse) =>
        response
          .writeHead(200, { "Content-Type": "text/event-stream; charset=utf-16" })
          .end(Buffer.from("data: {}\n\n", "utf16le")),
    ],
  ])("end in a clear failure: %s", async (_what, answer) => {
    const { entrantId } = await enter((response) => void answer(response), LIMITS);
    const run = await finish((await start(entrantId)).id);
    expect(run.counts).toMatchObject({ answered: 0, failed: 1 });
    expect(run.failures[0]!.message.length).toBeGreaterThan(10);
    expect(run.failures[0]!.remedy).not.toBe("");
  });

  it("are cut when an event never ends, or the answer does not", async () => {
    const flood = (response: ServerResponse, line: string) => {
      response.writeHead(200, { "Content-Type": "text/event-stream" });
      const write = () => {
        while (!response.destroyed) if (!response.write(line)) return void response.once("drain", write);
      };
      write();
    };
    const before = process.memoryUsage().rss;
    const { entrantId: endless } = await enter((response) => flood(response, "x".repeat(65_536)));
    expect((await finish((await start(endless)).id)).counts.failed).toBe(1);
    const chunk = `data: ${JSON.stringify({ id: "c", object: "chat.completion.chunk", created: 1, model: "m", choices: [{ index: 0, delta: { content: "y".repeat(20_000) }, finish_reason: null }] })}\n\n`;
    const { entrantId: long } = await enter((response) => flood(response, chunk));
    const run = await finish((await start(long)).id);
    expect(run.failures[0]!.message).toContain("does not end");
    expect(process.memoryUsage().rss - before).toBeLessThan(400_000_000);
  }, 60_000);
});

describe("a run", () => {
  it("is paused, resumed, cancelled, and retried cell by cell", async () => {
    let isWell = false;
    const { entrantId } = await enter(
      (response) => (isWell ? sendStream(response, ANSWER) : sendError(response, 400, "Bad\nsecond line")),
      {},
      { concurrency: 1 },
    );
    const { id } = await start(entrantId, {}, 2);
    await server().services.runs.pause(id);
    expect((await finish(id)).counts).toMatchObject({ queued: 2, failed: 0 });
    await server().services.runs.resume(id);
    const failed = await finish(id);
    expect(failed.failures).toMatchObject([{ count: 2, message: "400: Bad", outcome: "rejected" }]);
    isWell = true;
    await server().services.runs.retry(id, failed.failures[0]!.generationIds.slice(0, 1));
    expect((await finish(id)).counts).toMatchObject({ answered: 1, failed: 1 });
    await server().services.runs.retry(id);
    expect((await finish(id)).counts).toMatchObject({ answered: 2, failed: 0 });
  });

  it("takes in another entrant when it is finished", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    const { entrantId: later } = await enter((response) => sendStream(response, ANSWER));
    const { id } = await start(entrantId, {}, 2);
    await finish(id);
    await server().services.runs.extend(id, [later]);
    expect((await finish(id)).counts).toMatchObject({ total: 4, answered: 4 });
  });

  it("is planned with an estimate, and says what is unlike", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER), {
      settings: { reasoningEffort: "high" },
    });
    const { entrantId: other } = await enter((response) => sendStream(response, ANSWER));
    const request = {
      editionId: edition().id,
      promptIds: edition().promptIds,
      entrantIds: [entrantId, other],
      takes: 2,
    };
    const plan = await server().services.runs.plan(request);
    expect(plan).toMatchObject({ wanted: 16, existing: 0, missing: 16 });
    expect(plan.unlike.map(({ setting }) => setting)).toEqual(["reasoning", "host"]);
    expect(plan.byEntrant[0]!.basis).toBe("defaults");
    await expect(server().services.runs.start(request)).rejects.toThrow("not alike");
    const run = await server().services.runs.start({ ...request, takes: 1, acceptedWhy: "That is the comparison." });
    expect(await finish(run.id)).toMatchObject({ acceptedWhy: "That is the comparison.", counts: { answered: 8 } });
    expect((await server().services.runs.plan(request)).byEntrant[0]).toMatchObject({
      basis: "earlier answers",
      missing: 4,
      outputTokens: 800,
    });
  });
});

describe("an entrant that has answered", () => {
  it("gets a next version for other settings; its answers keep theirs", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    await finish((await start(entrantId)).id);
    const [before] = (await server().services.entrants.list()).filter(({ id }) => id === entrantId);
    const { key, name, maker, aliases, endpoint, model, settings } = before!;
    const input = { key, name, maker, aliases, endpoint, model, settings: { ...settings, temperature: 0.1 } };
    expect(await server().services.entrants.replace(entrantId, input)).toMatchObject({ version: 2 });
    expect(await server().services.entrants.replace(entrantId, { ...input, name: `${name} renamed` })).toMatchObject({
      version: 2,
    });
    const versions = await server().services.entrants.listVersions(entrantId);
    expect(versions.map(({ number, content }) => [number, content.settings.temperature])).toEqual([
      [1, undefined],
      [2, 0.1],
    ]);
    await expect(server().services.entrants.remove(entrantId)).rejects.toThrow("cannot be removed");
    await server().services.entrants.setRetired(entrantId, true);
    await expect(start(entrantId, {}, 2)).rejects.toThrow("nothing to run");
  });
});
