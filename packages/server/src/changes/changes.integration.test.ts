import { Wall } from "@tourney/core/contract";
import { pino } from "pino";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import * as z from "zod";
import { Client } from "../../test-support/client.js";
import { ANSWER, byHand, entrantInput, makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { Changes } from "./changes.js";

let server: TestServer;
let lead: Client;
let wall: string;
let tag: string;

beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
  const { edition } = await server.services.suites.importSuite(suiteYaml("one"));
  wall = `/api/editions/${edition.id}/wall`;
});
afterAll(() => server.close());
beforeEach(async () => {
  tag = (await lead.get(wall)).headers.get("etag")!;
});

/** As a page asks again that holds the wall. */
async function askAgain(): Promise<{ status: number; text: string }> {
  const headers = { ...lead.headers, "If-None-Match": tag, "Cache-Control": "max-age=0" };
  const response = await fetch(server.origin + wall, { headers });
  return { status: response.status, text: await response.text() };
}

const namesOf = ({ text }: { text: string }) => Wall.parse(JSON.parse(text)).entrants.map(({ name }) => name);

describe("the list of entrants", () => {
  it("says how they are reached now, also where another process has changed that", async () => {
    await lead.post("/api/entrants", entrantInput("reached", "http://127.0.0.1:9/v1"));
    const listLimits = async () =>
      z
        .array(z.object({ endpoint: z.object({ concurrency: z.int().optional() }) }))
        .parse((await lead.get("/api/entrants")).body)
        .map(({ endpoint }) => endpoint.concurrency);
    expect(await listLimits()).not.toContain(7);
    await server.db.execute("UPDATE endpoints SET concurrency = 7 WHERE protocol <> 'by-hand'");
    expect(await listLimits()).toContain(7);
  });
});

describe("a wall that is asked for again", () => {
  it("is sent only where something has changed", async () => {
    expect(await askAgain()).toEqual({ status: 304, text: "" });
  });

  it("shows what was just changed by a request", async () => {
    expect((await lead.post("/api/entrants", byHand("by-request"))).status).toBe(201);
    const after = await askAgain();
    expect(after.status).toBe(200);
    expect(namesOf(after)).toContain("Name of by-request");
  });

  it("shows what another process has changed, as soon as that is committed", async () => {
    await server.db.execute("UPDATE entrants SET name = 'Another name' WHERE key = 'by-request'");
    const after = await askAgain();
    expect(after.status).toBe(200);
    expect(namesOf(after)).toContain("Another name");
  });

  it("does not miss a change while the database cannot be listened to", async () => {
    const cut = await server.db.select(
      z.object({ isCut: z.literal(true) }),
      `SELECT pg_terminate_backend(pid) AS "isCut" FROM pg_stat_activity
       WHERE datname = current_database() AND query IN ('LISTEN tourney_changes', 'SELECT 1')`,
    );
    expect(cut.length).toBeGreaterThan(0);
    await server.db.execute("UPDATE entrants SET name = 'A third name' WHERE key = 'by-request'");
    expect(namesOf(await askAgain())).toContain("A third name");
  });
});

describe("what the wall, the course and the standings are made of", () => {
  it("is read again when a cell has changed, and not for a voter or a ballot", async () => {
    const [edition] = await server.services.suites.listEditions();
    const editionId = edition!.id;
    const panel = await server.services.panels.add({ editionId, title: "Friends", quota: 5, message: "" });
    const read = () => server.services.wall.listFigures(editionId);
    // The database is listened to again, after it was cut above.
    await expect.poll(async () => (await read()) === (await read()), { timeout: 10_000 }).toBe(true);
    const before = await read();
    const voter = new Client(server.origin);
    await voter.post(`/api/booth/${panel.url.split("/").at(-1)!}/voters`, { name: "Una" });
    expect(await read()).toBe(before);
    // What a run would do is asked with a body, and changes nothing.
    await lead.post("/api/runs/plan", { editionId, entrantIds: [] });
    expect(await read()).toBe(before);
    await server.db.execute("UPDATE entrants SET name = 'A fourth name' WHERE key = 'by-request'");
    // On a busy machine reading took long, and what took long rests for some seconds.
    const listNames = async () => (await read()).competitors.map(({ entrant }) => entrant.name);
    await expect.poll(listNames, { timeout: 40_000 }).toContain("A fourth name");
  });
});

describe("entrants and editions", () => {
  it("are not read again when a cell has come further, but when one comes or goes", async () => {
    const { suites, entries } = server.services;
    const { edition } = await suites.importSuite(suiteYaml("first", "second"));
    await makeEntries(server, { ...edition, prompts: edition.prompts.slice(0, 1) }, ["teller"]);
    const changes = new Changes({ pool: server.pool, log: pino({ level: "silent" }) });
    const setup = changes.of("setup");
    const cells = changes.of("cells");
    const tell = async () => [(await cells.stamp())?.told, (await setup.stamp())?.told] as [number, number];
    try {
      await expect.poll(() => setup.stamp(), { timeout: 10_000 }).not.toBeNull();
      const before = await tell();
      await server.db.execute("UPDATE generations SET outcome_detail = 'Further'");
      await server.db.execute("UPDATE entries SET verdict = 'truncated'");
      await server.db.execute("UPDATE renders SET error = 'Not yet'");
      const further = await tell();
      expect(further[0]).toBeGreaterThan(before[0]);
      expect(further[1]).toBe(before[1]);
      const promptKey = edition.prompts[1]!.key;
      await entries.addHandAnswer(edition.id, { promptKey, entrantKey: "teller", take: 1, text: ANSWER });
      const come = await tell();
      expect(come[1]).toBeGreaterThan(further[1]);
      await server.db.execute("UPDATE entrants SET name = 'Named otherwise' WHERE key = 'teller'");
      expect((await tell())[1]).toBeGreaterThan(come[1]);
    } finally {
      changes.close();
    }
  });

  it("count their answers as they are now", async () => {
    const countAnswers = async () =>
      z
        .array(z.object({ key: z.string(), generations: z.int() }))
        .parse((await lead.get("/api/entrants")).body)
        .find(({ key }) => key === "teller")!.generations;
    expect(await countAnswers()).toBe(2);
    await server.db.execute("DELETE FROM renders");
    await server.db.execute("DELETE FROM entries");
    await server.db.execute(
      "DELETE FROM generations WHERE entrant_id = (SELECT id FROM entrants WHERE key = 'teller') AND wording_id = (SELECT max(wording_id::text)::uuid FROM generations)",
    );
    expect(await countAnswers()).toBe(1);
  });
});
