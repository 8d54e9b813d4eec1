import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { sendError, startFakeEndpoint } from "../../test-support/fake-endpoint.js";
import { ANSWER, byHand, entrantInput, makeEntries, RECORDING, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let edition: Awaited<ReturnType<TestServer["services"]["suites"]["importSuite"]>>["edition"];
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two")));
});
afterAll(() => server.close());
const services = () => server.services;

/** Text of every kind that Unicode has, halves of pairs and NUL among them: what a page, a model or a voter may send. */
const unit = fc.oneof(
  fc.constantFrom(
    "\0",
    "\ud83d",
    "\udc00",
    "\ud83d\ude00",
    "\ufffe",
    "\u202e",
    "\u0301",
    "\\u0000",
    "\\",
    '"',
    "\r\n",
    "\x1b",
    "<",
    "é",
    "漢",
  ),
  fc.string({ unit: "binary", minLength: 1, maxLength: 2 }),
);
const anyText = fc.array(unit, { minLength: 1, maxLength: 12 }).map((parts) => parts.join(""));
const RUNS = { numRuns: 12 };

const isWellFormed = (text: string) => (text as unknown as { isWellFormed: () => boolean }).isWellFormed();
/** Whether everything in an answer of the API is text that a browser can show. */
function isShown(value: unknown): boolean {
  if (typeof value === "string") return isWellFormed(value) && !value.includes("\0");
  if (typeof value === "number") return Number.isFinite(value);
  return typeof value !== "object" || value === null || Object.entries(value).flat().every(isShown);
}
let numbered = 0;
/** Runs prompt one with a new entrant whose endpoint answers as told; resolves with its run and its cell. */
async function runAgainst(answer: Parameters<typeof startFakeEndpoint>[0]) {
  const fake = await startFakeEndpoint(answer);
  try {
    const { id } = await services().entrants.add(entrantInput(`outsider-${++numbered}`, fake.baseUrl));
    const promptIds = [edition.prompts[0]!.id];
    const run = await services().runs.start({ editionId: edition.id, promptIds, entrantIds: [id] });
    await server.runJobs();
    const { cells } = await services().wall.getWall(edition.id);
    const cell = cells.find(({ entrantId }) => entrantId === id)!;
    return { requests: fake.requests.length, detail: await services().runs.getDetail(run.id), cell };
  } finally {
    await fake.close();
  }
}
const chunk = (fields: object) =>
  `data: ${JSON.stringify({ id: "c", object: "chat.completion.chunk", created: 1, ...fields })}\n\n`;

describe("what an endpoint sends", () => {
  it("is stored and shown whatever its characters are", async () => {
    await fc.assert(
      fc.asyncProperty(anyText, anyText, anyText, async (text, model, finish) => {
        const { detail, cell } = await runAgainst((_request, response) => {
          response.writeHead(200, { "Content-Type": "text/event-stream" });
          response.write(
            chunk({
              model,
              choices: [
                { index: 0, delta: { reasoning_content: text, content: `${ANSWER}${text}` }, finish_reason: null },
              ],
            }),
          );
          response.end(
            chunk({ model, choices: [{ index: 0, delta: {}, finish_reason: finish }] }) + "data: [DONE]\n\n",
          );
        });
        expect(detail.counts).toMatchObject({ answered: 1, failed: 0 });
        expect(isShown(detail)).toBe(true);
        expect(isShown(await services().entries.getDetail(cell.entryId!))).toBe(true);
      }),
      RUNS,
    );
  }, 120_000);

  it("is told as a failure, once, when it is a refusal with such characters", async () => {
    await fc.assert(
      fc.asyncProperty(anyText, async (text) => {
        const { detail, requests } = await runAgainst((_request, response) => sendError(response, 400, `Bad: ${text}`));
        expect(requests).toBe(1);
        expect(detail.counts).toMatchObject({ answered: 0, failed: 1 });
        expect(isShown(detail)).toBe(true);
      }),
      RUNS,
    );
  }, 120_000);

  it.each<[string, object]>([
    ["negative", { prompt_tokens: -5, completion_tokens: -1, total_tokens: -6 }],
    ["beyond any count", { prompt_tokens: 1e300, completion_tokens: 1e300, total_tokens: 1e300 }],
    ["no whole numbers", { prompt_tokens: 1.5, completion_tokens: 2.5, total_tokens: 4 }],
    ["of too many tokens for a column", { prompt_tokens: 3_000_000_000, completion_tokens: 1, total_tokens: 1 }],
  ])("costs an answer nothing of its text when its usage is %s: it is asked once", async (_, usage) => {
    const { detail, requests, cell } = await runAgainst((_request, response) => {
      response.writeHead(200, { "Content-Type": "text/event-stream" });
      response.write(chunk({ model: "m", choices: [{ index: 0, delta: { content: ANSWER }, finish_reason: "stop" }] }));
      response.end(`${chunk({ model: "m", choices: [], usage })}data: [DONE]\n\n`);
    });
    expect(requests).toBe(1);
    expect(detail.counts).toMatchObject({ answered: 1, running: 0 });
    expect(await services().entries.getDetail(cell.entryId!)).toMatchObject({ verdict: "ok" });
  });
});

describe("what a page shows and logs", () => {
  it("is stored with its recording whatever its characters are, and shown", async () => {
    const { cell } = await runAgainst((_request, response) => {
      response.writeHead(200, { "Content-Type": "text/event-stream" });
      response.write(chunk({ model: "m", choices: [{ index: 0, delta: { content: ANSWER }, finish_reason: "stop" }] }));
      response.end("data: [DONE]\n\n");
    });
    await fc.assert(
      fc.asyncProperty(anyText, async (text) => {
        const { renderId } = await services().entries.recordAgain(cell.entryId!, { stress: false });
        const recording = {
          ...RECORDING,
          shownText: text,
          outcomeDetail: text,
          console: [{ atMs: 1, level: "info" as const, text, source: "console" as const, where: text }],
        };
        await services().addJob("render-finished", { renderId, recording, error: null }, { key: `rf:${renderId}` });
        await server.runJobs();
        const { render } = await services().entries.getDetail(cell.entryId!);
        expect(render).toMatchObject({ id: renderId, state: "recorded" });
        expect(isShown(render)).toBe(true);
      }),
      RUNS,
    );
  }, 120_000);
});

describe("what people write", () => {
  it("is stored and shown: names, notes, reasons, drafts and answers by hand", async () => {
    await makeEntries(server, edition, ["fen", "moor"]);
    const panel = await services().panels.add({ editionId: edition.id, title: "Friends", quota: 900 });
    const token = panel.url.split("/").at(-1)!;
    await fc.assert(
      fc.asyncProperty(anyText, async (text) => {
        const named = await services().entrants.add({
          ...byHand(`person-${++numbered}`),
          name: `N${numbered} ${text}`.slice(0, 60),
        });
        const { newToken } = await services().booth.join(
          token,
          { voterToken: null, isLead: false, address: "192.0.2.1" },
          { name: text, sample: false },
        );
        const [bout] = (await services().booth.getQueue(token, newToken)).bouts;
        const ballot = {
          lean: 1,
          leftWorks: true,
          rightWorks: true,
          reasons: [],
          dwellMs: 1,
          leftTouched: true,
          seenWith: null,
          rightTouched: true,
        };
        await services().booth.cast(bout!.token, () => newToken, { ...ballot, note: text });
        await services().suites.saveDraft("a-suite", text);
        await services().entries.addHandAnswer(edition.id, {
          promptKey: "one",
          entrantKey: named.key,
          text: `${ANSWER}${text}`,
          reportedModel: text.slice(0, 100).trim() || "m",
        });
        const [list, draft, trail] = await Promise.all([
          services().ballotList.list(edition.id, { only: "all" }),
          services().suites.getDraft("a-suite"),
          services().panels.listAudit(edition.id),
        ]);
        expect([isShown(list), isShown(draft), isShown(trail), isShown(await services().entrants.list())]).toEqual(
          Array(4).fill(true),
        );
        expect(list.ballots[0]!.note.length).toBe(text.length);
      }),
      RUNS,
    );
  }, 120_000);
});

describe("a job that fails in the same way again and again", () => {
  it("ends as a failure that the lead sees and can retry: an answer whose page cannot be taken out", async () => {
    const { blobs } = services().extractDeps;
    const put = blobs.put;
    blobs.put = () => Promise.reject(new Error("The disk is full."));
    let runId: string;
    try {
      const { detail } = await runAgainst((_request, response) => {
        response.writeHead(200, { "Content-Type": "text/event-stream" });
        response.write(
          chunk({ model: "m", choices: [{ index: 0, delta: { content: ANSWER }, finish_reason: "stop" }] }),
        );
        response.end("data: [DONE]\n\n");
      });
      runId = detail.id;
      for (let i = 0; i < 3; i++) await server.retryJobs();
      const given = await services().runs.getDetail(runId);
      expect(given.counts).toMatchObject({ answered: 1, untaken: 1 });
      expect(given.failures[0]).toMatchObject({ outcome: "untaken", count: 1 });
      const jobs = await server.db.select(
        z.object({ n: z.int() }),
        "SELECT count(*)::int AS n FROM graphile_worker.jobs WHERE task_identifier = 'extract'",
      );
      expect(jobs[0]!.n).toBe(0);
    } finally {
      blobs.put = put;
    }
    await services().runs.retry(runId);
    await server.runJobs();
    expect((await services().runs.getDetail(runId)).counts).toMatchObject({ answered: 1, untaken: 0 });
    const [entry] = await server.db.select(
      z.object({ n: z.int() }),
      "SELECT count(*)::int AS n FROM entries e JOIN generations g ON g.id = e.generation_id WHERE g.run_id = $1",
      [runId],
    );
    expect(entry!.n).toBe(1);
  });

  it("and a recording that cannot be read back", async () => {
    const [row] = await server.db.select(
      z.object({ id: z.uuid() }),
      "SELECT id FROM entries WHERE entry_path IS NOT NULL LIMIT 1",
    );
    const { renderId } = await services().entries.recordAgain(row!.id, { stress: false });
    await services().addJob("render-finished", { renderId, recording: { nonsense: true }, error: null } as never, {
      key: renderId,
    });
    for (let i = 0; i < 3; i++) await server.retryJobs();
    const [render] = await server.db.select(
      z.object({ state: z.string() }),
      "SELECT state FROM renders WHERE id = $1",
      [renderId],
    );
    expect(render!.state).toBe("failed");
  });
});
