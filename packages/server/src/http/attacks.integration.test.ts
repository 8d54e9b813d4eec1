import { monitorEventLoopDelay } from "node:perf_hooks";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  attackAsNeighbour,
  attackBodies,
  attackByAnswers,
  attackByFiles,
  attackOperations,
  type Target,
  tryAttacks,
} from "../../test-support/attacks/index.js";
import { Client } from "../../test-support/client.js";
import { byHand, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let target: Target;
beforeAll(async () => {
  // Nothing on this machine may be asked here, as where nobody allows it.
  server = await startTestServer({ settings: { localEndpoints: "" } });
  server.keys["TOURNEY_SECRET"] = "a secret";
  const lead = await signIn(server);
  const { edition } = await server.services.suites.importSuite(suiteYaml("sweep"));
  await server.services.entrants.add(byHand("thrift-2"));
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Attacks", quota: 1, message: "" });
  const voter = new Client(server.origin);
  await voter.post(`/api/booth/${panel.url.split("/").at(-1)!}/voters`);
  const made = await lead.post("/api/tokens", { name: "reads", scopes: ["read"] });
  target = {
    origin: server.origin,
    exhibitsAt: server.exhibitsAt,
    lead: lead.headers,
    voter: voter.headers,
    reader: { Authorization: `Bearer ${(made.body as { token: string }).token}` },
    editionId: edition.id,
    promptKey: "sweep",
    entrantKey: "thrift-2",
  };
}, 60_000);
afterAll(() => server.close());

// The short form of `npm run probe:attack`, which takes longer texts, and browsers.
describe("attacked", () => {
  it.each([
    ["by everybody who may not call an operation", () => attackOperations(target)],
    ["by bodies that are none", () => attackBodies(target)],
    ["by files", () => attackByFiles(target)],
    ["by neighbours", () => attackAsNeighbour(target)],
  ])(
    "%s, all holds",
    async (_, attacks) => {
      const tried = attacks();
      expect(tried.length).toBeGreaterThan(10);
      expect(await tryAttacks(tried)).toEqual([]);
    },
    240_000,
  );

  it("by answers, it holds and keeps answering others", async () => {
    const delays = monitorEventLoopDelay({ resolution: 10 });
    delays.enable();
    expect(await tryAttacks(attackByAnswers(target, 200_000, 24))).toEqual([]);
    delays.disable();
    // One such answer took the server seconds when it read it itself.
    expect(delays.max / 1e6).toBeLessThan(1000);
  }, 240_000);
});
