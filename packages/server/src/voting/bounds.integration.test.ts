import { BoothQueue, type Edition, Panel } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

const MOST = 3;

let server: TestServer;
let edition: Edition;
beforeAll(async () => {
  server = await startTestServer({ settings: { joinsFromOnePlace: MOST } });
  const prompts = Array.from({ length: 8 }, (_, i) => `prompt-${i}`);
  ({ edition } = await server.services.suites.importSuite(suiteYaml(...prompts)));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
});
afterAll(() => server.close());

async function addPanel(): Promise<{ panel: Panel; token: string }> {
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 40, message: "" });
  return { panel, token: panel.url.split("/").at(-1)! };
}
const join = (token: string, address?: string) =>
  new Client(server.origin, address === undefined ? {} : { "X-Forwarded-For": address }).post(
    `/api/booth/${token}/voters`,
    { name: "Una" },
  );
const read = async (panelId: string) =>
  (await server.services.panels.list(edition.id)).find(({ id }) => id === panelId)!;

describe("the open link of a panel", () => {
  it("takes so many from one address, also at once, and the lead sees how many it refused", async () => {
    const { panel, token } = await addPanel();
    const statuses = await Promise.all(Array.from({ length: MOST + 4 }, async () => (await join(token)).status));
    expect(statuses.filter((status) => status === 201)).toHaveLength(MOST);
    const refused = await join(token);
    expect(refused).toMatchObject({
      status: 429,
      body: { remedy: expect.stringContaining("link of your own") as string },
    });
    const { voters, joinsRefused } = await read(panel.id);
    expect(joinsRefused).toBe(5);
    expect(voters.map(({ sharesPlaceWith }) => sharesPlaceWith)).toEqual([2, 2, 2]);
  });

  it("counts by the address that the proxy tells of, panel by panel, and keeps no address", async () => {
    const [{ panel, token }, other] = [await addPanel(), await addPanel()];
    for (let i = 0; i < MOST; i++) expect((await join(token, "203.0.113.7")).status).toBe(201);
    expect((await join(token, "203.0.113.7")).status).toBe(429);
    expect((await join(token, "203.0.113.8")).status).toBe(201);
    expect((await join(other.token, "203.0.113.7")).status).toBe(201);
    // A network has many addresses of the newer kind: they count as one.
    for (let i = 0; i < MOST; i++) expect((await join(token, `2001:db8:1:2::${i}`)).status).toBe(201);
    expect((await join(token, "2001:db8:1:2::ffff")).status).toBe(429);
    const { rows } = await server.pool.query("SELECT * FROM voters WHERE panel_id = $1", [panel.id]);
    expect(JSON.stringify(rows)).not.toMatch(/203\.0\.113|2001:db8/);
  });

  it("leaves personal links alone", async () => {
    const { panel, token } = await addPanel();
    for (let i = 0; i < MOST; i++) await join(token);
    const invited = await server.services.panels.invite(panel.id, ["Ada"]);
    const [, own] = invited.voters.find(({ name }) => name === "Ada")!.url!.split("#");
    const answer = await new Client(server.origin).post(`/api/booth/${token}/resume`, { voterToken: own });
    expect(answer.status).toBe(200);
  });
});

describe("passing over", () => {
  it("is free for a while, then waits for answers", async () => {
    const { token } = await addPanel();
    const voter = new Client(server.origin);
    await voter.post(`/api/booth/${token}/voters`, { name: "Una" });
    const next = async () => BoothQueue.parse((await voter.get(`/api/booth/${token}/bouts`)).body).bouts[0]!.token;
    const skip = async () => voter.post(`/api/booth/bouts/${await next()}/skip`, { reason: "cannot judge" });
    for (let i = 0; i < 20; i++) expect((await skip()).status).toBe(200);
    const bout = await next();
    const refused = await skip();
    expect(refused).toMatchObject({
      status: 429,
      body: { detail: expect.stringContaining("passed over 20") as string },
    });
    expect((await voter.post(`/api/booth/bouts/${bout}/ballot`, { lean: 1, dwellMs: 4000 })).status).toBe(201);
    expect((await skip()).status).toBe(200);
    expect((await skip()).status).toBe(429);
  });
});
