import { API, RunInput, ScoreSheetInput } from "@tourney/core/contract";
import { pino } from "pino";
import { afterAll, beforeAll, expect, it } from "vitest";
import * as z from "zod";
import type { Client } from "../../test-support/client.js";
import { byHand, makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { Changes } from "../changes/changes.js";
import { KEEPING } from "./middleware.js";

let server: TestServer;
let lead: Client;
let changes: Changes;
let editionId: string;
let promptId: string;

beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
  const { edition } = await server.services.suites.importSuite(suiteYaml("quay"));
  await makeEntries(server, edition, ["gorse"]);
  editionId = edition.id;
  promptId = edition.prompts[0]!.id;
  changes = new Changes({ pool: server.pool, log: pino({ level: "silent" }) });
});
afterAll(async () => {
  changes.close();
  await server.close();
});

/** The answer to a request, and how many changes the database tells of meanwhile. */
async function countTold(ask: () => ReturnType<Client["request"]>): Promise<{ told: number; body: unknown }> {
  const before = (await changes.stamp())!.told;
  const { status, text, body } = await ask();
  expect(status, text).toBeLessThan(300);
  return { told: (await changes.stamp())!.told - before, body };
}

const SHEET = ScoreSheetInput.parse({
  watchpoints: ["It works", "It moves", "It lasts"].map((text) => ({ text, mark: "met" })),
  ...{ verdict: "pass", marks: 9, note: "", tags: [], isBlind: false },
});

it("requests after which kept answers still hold change no table that tells of changes", async () => {
  await expect.poll(() => changes.stamp(), { timeout: 10_000 }).not.toBeNull();
  const [entry] = await server.db.select(z.object({ id: z.uuid() }), "SELECT id FROM entries LIMIT 1");
  const [entrant] = await server.services.entrants.list();
  const run = RunInput.parse({ editionId, entrantIds: [entrant!.id], promptIds: [promptId] });
  const signInLink = await server.services.auth.createSignInLink();
  const sheet = `/api/entries/${entry!.id}/sheets/Una`;
  const counts: Record<string, number> = {};
  const count = async ({ id }: { id: string }, ask: () => ReturnType<Client["request"]>) => {
    const { told, body } = await countTold(ask);
    counts[id] = told;
    return body;
  };
  await count(API.planRun, () => lead.post("/api/runs/plan", run));
  await count(API.previewSuite, () => lead.post("/api/suites/preview", { yaml: suiteYaml("lamps") }));
  await count(API.saveSheet, () => lead.put(sheet, SHEET));
  await count(API.removeSheet, () => lead.delete(sheet));
  const view = await count(API.keepView, () =>
    lead.post(`/api/editions/${editionId}/standings-views`, { name: "All", counts: {} }),
  );
  await count(API.removeView, () => lead.delete(`/api/standings-views/${API.keepView.response.parse(view).id}`));
  const token = await count(API.addToken, () => lead.post("/api/tokens", { name: "a script", scopes: ["read"] }));
  await count(API.revokeToken, () => lead.delete(`/api/tokens/${API.addToken.response.parse(token).made.id}`));
  const link = await count(API.addReportLink, () =>
    lead.post(`/api/editions/${editionId}/report-links`, { counts: {} }),
  );
  await count(API.setReportLink, () =>
    lead.put(`/api/report-links/${API.addReportLink.response.parse(link).id}`, { withdrawn: true }),
  );
  await count(API.signIn, () => lead.post("/api/session", { token: signInLink.split("/").at(-1) }));
  await count(API.signOut, () => lead.delete("/api/session"));
  expect(counts).toEqual(Object.fromEntries(KEEPING.map(({ id }) => [id, 0])));

  const another = await signIn(server);
  expect((await countTold(() => another.post("/api/entrants", byHand("heath")))).told).toBeGreaterThan(0);
});
