import type { IncomingMessage } from "node:http";
import { composeRequestText } from "@tourney/core/generation";
import { wordingOf } from "@tourney/core/suite";
import { describe, expect, it, vi } from "vitest";
import * as z from "zod";
import { finishStream, sendError, sendStream, startStream } from "../../test-support/fake-endpoint.js";
import { ANSWER, entrantInput, markRecorded, RECORDING, suiteYaml } from "../../test-support/scenario.js";
import { withRuns } from "../../test-support/with-runs.js";

const { edition, enter, finish, server, start } = withRuns();
const services = () => server().services;

interface Body {
  model: string;
  messages: { role: string; content: string }[];
}
/** Keeps the body of every request to an endpoint. */
function keepBodies() {
  const bodies: Body[] = [];
  const keep = (request: IncomingMessage) => {
    const chunks: Buffer[] = [];
    request.on("data", (chunk: Buffer) => chunks.push(chunk));
    request.on("end", () => bodies.push(JSON.parse(Buffer.concat(chunks).toString()) as Body));
  };
  return { bodies, keep };
}

const DATA = '[{ "name": "Fair Isabel" }]\n';
const NOTES = "# Notes\n\n```js\nconst a = 1;\n```\n";
const SUITE = `format: tourney-suite/2
key: promises
title: Promises
prompts:
  - key: log
    title: Log
    kind: app
    summary: Read it.
    text: |
      Build a log of wrecks.
    turns:
      - text: Now sort it by year.
    starterFiles:
      - path: data/wrecks.json
        text: ${JSON.stringify(DATA)}
      - path: notes.md
        text: ${JSON.stringify(NOTES)}
    rules: { libraries: [d3], framework: forbidden, language: javascript }
    viewport: { width: 1024, height: 640 }
    motion: false
    watchpoints: [It sorts]
`;

describe("a request", () => {
  it("holds every part that the suite file promises, to the byte, in each turn, mend and continuation", async () => {
    const { edition: promises } = await services().suites.importSuite(SUITE);
    const { bodies, keep } = keepBodies();
    const { entrantId } = await enter((response, attempt, request) => {
      keep(request);
      if (attempt === 1) sendStream(response, "```html\n<!doctype html><p>half", { finish: "length" });
      else sendStream(response, attempt === 2 ? " and whole</p>\n```\n" : ANSWER);
    });
    const run = await services().runs.start({
      editionId: promises.id,
      promptIds: promises.prompts.map(({ id }) => id),
      entrantIds: [entrantId],
      options: { continuations: 1, mendRounds: 1 },
    });
    await finish(run.id);
    const text = composeRequestText(wordingOf(promises.prompts[0]!));
    for (const part of [
      "Build a log of wrecks.\n",
      "Third-party libraries that may be used: d3.",
      "Do not use a component framework.",
      "Write scripts in plain JavaScript.",
      "It is shown at 1024 × 640 pixels",
      `data/wrecks.json\n\`\`\`json\n${DATA}\`\`\`\n`,
      `notes.md\n\`\`\`\`md\n${NOTES}\`\`\`\`\n`,
    ])
      expect(text).toContain(part);
    const [first, continued, second] = bodies;
    expect(first!.messages).toEqual([{ role: "user", content: text }]);
    expect(continued!.messages.map(({ role }) => role)).toEqual(["user", "assistant", "user"]);
    expect(continued!.messages[0]!.content).toBe(text);
    expect(second!.messages[0]!.content).toBe(text);
    expect(second!.messages.at(-1)).toEqual({ role: "user", content: "Now sort it by year.\n" });

    const [render] = await server().db.select(
      z.object({ id: z.uuid() }),
      `SELECT v.id FROM renders v JOIN entries e ON e.id = v.entry_id JOIN generations g ON g.id = e.generation_id
       WHERE g.entrant_id = $1 AND g.turn = 2`,
      [entrantId],
    );
    const findings = [
      { rule: "exception", version: 1, severity: "error", message: "TypeError: y", atMs: 1, evidence: "index.html:3" },
    ];
    const recording = { ...RECORDING, findings } as typeof RECORDING;
    await services().addJob("render-finished", { renderId: render!.id, recording, error: null }, { key: render!.id });
    await server().runJobs();
    const mend = bodies.at(-1)!;
    expect(mend.messages[0]!.content).toBe(text);
    expect(mend.messages.at(-1)!.content).toContain("- TypeError: y (index.html:3)");
    // The file that was sent also lies beside the page.
    const wall = await services().wall.getWall(promises.id);
    const entry = await services().entries.getDetail(wall.cells[0]!.entryId!);
    expect(entry.fileTexts.find(({ path }) => path === "data/wrecks.json")?.text).toBe(DATA);
  });
});

describe("a turn or a mend that the budget held", () => {
  it("runs when the budget is raised, and the run ends", async () => {
    const yaml = suiteYaml("two-turns")
      .replace("text: Build two-turns.,", "text: Build it in two turns., turns: [{ text: Now in red. }],")
      .replace("tourney-suite/1", "tourney-suite/2");
    const { edition: turned } = await services().suites.importSuite(yaml);
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    const run = await services().runs.start({
      editionId: turned.id,
      promptIds: turned.prompts.map(({ id }) => id),
      entrantIds: [entrantId],
      // Enough for the first turn by its estimate, and reached by what it costs.
      budgetUsd: 0.122,
    });
    await finish(run.id);
    const held = await services().runs.getDetail(run.id);
    expect(held.counts).toMatchObject({ answered: 1, held: 1 });
    await services().runs.setBudget(run.id, 100);
    const done = await finish(run.id);
    expect(done.counts).toMatchObject({ answered: 2, held: 0, waiting: 0, queued: 0 });
  });

  it("runs by a retry too, and one whose turn before failed waits for that", async () => {
    const yaml = suiteYaml("two-turns")
      .replace("text: Build two-turns.,", "text: Build it in two turns again., turns: [{ text: Now in red. }],")
      .replace("tourney-suite/1", "tourney-suite/2");
    const { edition: turned } = await services().suites.importSuite(yaml);
    let isDown = true;
    const { entrantId } = await enter((response) =>
      isDown ? sendError(response, 401, "Incorrect key") : sendStream(response, ANSWER),
    );
    const run = await services().runs.start({
      editionId: turned.id,
      promptIds: turned.prompts.map(({ id }) => id),
      entrantIds: [entrantId],
    });
    const failed = await finish(run.id);
    // Nothing waits for an answer that does not come: the run has ended.
    expect(failed.counts).toMatchObject({ failed: 1, cancelled: 1, waiting: 0 });
    isDown = false;
    await services().runs.retry(run.id, failed.failures[0]!.generationIds);
    expect((await finish(run.id)).counts).toMatchObject({ answered: 2, waiting: 0 });
  });
});

describe("what an answer cost and took", () => {
  it("is priced by when it was sent, however long it took", async () => {
    const day = (offset: number) => new Date(Date.now() + offset * 86_400_000).toISOString().slice(0, 10);
    const prices = [
      { input: 10, output: 20, validUntil: day(0) },
      { input: 1000, output: 1000, validFrom: day(1) },
    ];
    vi.useFakeTimers({ toFake: ["Date"], now: Date.now() });
    try {
      // By the time the answer is whole, the day after tomorrow has come.
      const { entrantId } = await enter(
        (response) => {
          vi.setSystemTime(Date.now() + 2 * 86_400_000);
          sendStream(response, ANSWER);
        },
        { prices },
      );
      const { id } = await start(entrantId);
      await finish(id);
      expect((await services().runs.getDetail(id)).costUsd).toBeCloseTo((100 * 10 + 200 * 20) / 1e6, 10);
    } finally {
      vi.useRealTimers();
    }
  });

  it("tells the first token of the reasoning from the first of the answer", async () => {
    const reason = `data: ${JSON.stringify({ id: "c1", object: "chat.completion.chunk", created: 1, model: "the-model", choices: [{ index: 0, delta: { role: "assistant", reasoning_content: "Hm." }, finish_reason: null }] })}\n\n`;
    const { entrantId } = await enter((response) => {
      response.writeHead(200, { "Content-Type": "text/event-stream" });
      response.write(reason);
      setTimeout(() => {
        response.write(
          `data: ${JSON.stringify({ id: "c1", object: "chat.completion.chunk", created: 1, model: "the-model", choices: [{ index: 0, delta: { content: ANSWER }, finish_reason: null }] })}\n\n`,
        );
        finishStream(response);
      }, 120);
    });
    await finish((await start(entrantId)).id);
    const { cells } = await services().wall.getWall(edition().id);
    const cell = cells.find((one) => one.entrantId === entrantId)!;
    const { timings } = (await services().entries.getDetail(cell.entryId!)).generation;
    expect(timings!.firstTextMs! - timings!.firstTokenMs!).toBeGreaterThan(80);
  });
});

describe("an answer by hand", () => {
  const add = (entrantKey: string, more: object = {}) =>
    services().entries.addHandAnswer(edition().id, { promptKey: "one", entrantKey, text: ANSWER, ...more });

  it("may bring tokens, minutes, cost, the model and the turn", async () => {
    const entrant = await services().entrants.add(entrantInput(`hand-${Date.now()}`, "http://127.0.0.1:9/v1"));
    const known = { inputTokens: 10, outputTokens: 2000, minutes: 2, costUsd: 0.5, reportedModel: "another" };
    const { entryId } = await add(entrant.key, known);
    const entry = await services().entries.getDetail(entryId);
    expect(entry.generation).toMatchObject({
      byHand: true,
      costUsd: 0.5,
      usage: { inputTokens: 10, outputTokens: 2000 },
      timings: { totalMs: 120_000 },
    });
    expect(entry.mismatch).toEqual({ accepted: false });
    await expect(add(entrant.key, { turn: 2 })).rejects.toThrow("one has no turn 2");
  });

  it("whose extraction dies is taken out by the queue, and can be imported again meanwhile", async () => {
    const entrant = await services().entrants.add(entrantInput(`hand-${Date.now()}`, "http://127.0.0.1:9/v1"));
    const { blobs } = services().extractDeps;
    const put = blobs.put;
    blobs.put = () => Promise.reject(new Error("The disk is full."));
    try {
      await expect(add(entrant.key)).rejects.toThrow("The disk is full.");
    } finally {
      blobs.put = put;
    }
    const jobs = await server().db.select(
      z.object({ n: z.int() }),
      `SELECT count(*)::int AS n FROM graphile_worker.jobs j JOIN generations g ON j.key = 'extract:' || g.id WHERE g.entrant_id = $1`,
      [entrant.id],
    );
    expect(jobs[0]!.n).toBe(1);
    expect(await add(entrant.key)).toMatchObject({ verdict: "ok", created: true });
    expect(await add(entrant.key)).toMatchObject({ verdict: "ok", created: false });
  });
});

describe("a mend after the run", () => {
  it("can be asked for one entry and for a row, once a round; a mend after a correction is told apart", async () => {
    const { bodies, keep } = keepBodies();
    const { entrantId } = await enter((response, _attempt, request) => {
      keep(request);
      sendStream(response, ANSWER);
    });
    await finish((await start(entrantId)).id);
    const record = async (errors: string[]) => {
      const findings = errors.map((message) => ({
        ...{ rule: "exception", version: 1, severity: "error", message, atMs: 1, evidence: "" },
      }));
      await server().db.execute(
        `UPDATE renders r SET state = 'recorded', finished_at = now(), recording = $1::jsonb FROM entries e JOIN generations g ON g.id = e.generation_id
         WHERE r.entry_id = e.id AND g.entrant_id = $2`,
        [JSON.stringify({ ...RECORDING, findings }), entrantId],
      );
    };
    const cell = async () =>
      (await services().wall.getWall(edition().id)).cells.find((one) => one.entrantId === entrantId)!;
    const request = { editionId: edition().id, promptId: edition().promptIds[0]!, take: 1 };
    await record([]);
    await expect(services().followUpService.sendMends(request)).rejects.toThrow("There is nothing to mend.");
    await record(["ReferenceError: z"]);
    expect(await services().followUpService.sendMends({ ...request, entryId: (await cell()).entryId! })).toEqual({
      sent: 1,
    });
    await server().runJobs();
    expect(bodies.at(-1)!.messages.at(-1)!.content).toContain("ReferenceError: z");
    const correction = { text: "Make it blue.", take: 1, entrantIds: [entrantId] };
    await services().followUpService.sendCorrection(edition().promptIds[0]!, correction);
    await server().runJobs();
    await record(["ReferenceError: z"]);
    expect(await services().followUpService.sendMends(request)).toEqual({ sent: 1 });
    await server().runJobs();
    const { rounds } = await services().entries.getDetail((await cell()).entryId!);
    expect(
      rounds.map(({ round, mends, corrections, followUp }) => [round, mends, corrections, followUp?.toSome]),
    ).toEqual([
      [0, 0, 0, undefined],
      [1, 1, 0, undefined],
      [2, 1, 1, true],
      [3, 2, 1, undefined],
    ]);
  });
});

describe("an answer with several pages", () => {
  const TWO =
    "Option A:\n\n```html\n<!doctype html><html><body><h1>First</h1></body></html>\n```\n\nOption B:\n\n```html\n<!doctype html><html><body><h1>Second</h1></body></html>\n```\n";

  it("can have another of them chosen, which is logged and may be voted on", async () => {
    const { entrantId } = await enter((response) => sendStream(response, TWO));
    await finish((await start(entrantId)).id);
    const cell = (await services().wall.getWall(edition().id)).cells.find((one) => one.entrantId === entrantId)!;
    const entry = await services().entries.getDetail(cell.entryId!);
    expect(entry.facts.choices).toHaveLength(2);
    const taken = entry.trace.find(({ action }) => action === "taken")!.part;
    const other = entry.facts.choices.find((part) => part !== taken)!;
    const before = entry.fileTexts[0]!.text;
    await services().judgements.choosePart(entry.id, other);
    const now = await services().entries.getDetail(entry.id);
    expect(now.fileTexts[0]!.text).not.toBe(before);
    expect(now.trace).toContainEqual({ part: other, action: "taken", why: "the lead chose it" });
    expect((await services().panels.listAudit(edition().id))[0]!.action).toBe("chose another page of an answer");
    await expect(services().judgements.choosePart(entry.id, "fence 9")).rejects.toThrow("is not a page of this answer");
  });

  it("keeps what the lead notes of it", async () => {
    const { entrantId } = await enter((response) => {
      startStream(response, ANSWER);
      finishStream(response);
    });
    await finish((await start(entrantId)).id);
    const cellOf = async () =>
      (await services().wall.getWall(edition().id)).cells.find((one) => one.entrantId === entrantId)!;
    const cleanShare = async () =>
      (await services().wall.getWall(edition().id)).entrants.find((one) => one.id === entrantId)!.cleanShare;
    const marks = { handHelp: "reminded of the file", offTask: "a clock, no lock" };
    await markRecorded(server());
    expect(await cleanShare()).toBe(1);
    await services().judgements.setMarks((await cellOf()).entryId!, marks);
    expect(await services().entries.getDetail((await cellOf()).entryId!)).toMatchObject(marks);
    // What was helped does not work by itself.
    expect(await cleanShare()).toBe(0);
  });
});
