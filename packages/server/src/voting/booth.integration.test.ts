import { BoothQueue, type Edition, type Panel, type Standings } from "@tourney/core/contract";
import { findHeadToHead } from "@tourney/core/standings";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

const ENTRANTS = ["gorse", "heath", "sedge"];
const BALLOT = { lean: -2, dwellMs: 4000 };

let server: TestServer;
let edition: Edition;
let panel: Panel;
let token: string;
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two")));
  await makeEntries(server, edition, ENTRANTS);
  panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 6, message: "" });
  token = panel.url.split("/").at(-1)!;
});
afterAll(() => server.close());

async function join(): Promise<Client> {
  const voter = new Client(server.origin);
  expect((await voter.post(`/api/booth/${token}/voters`, { name: "Una" })).status).toBe(201);
  return voter;
}
const queueOf = async (voter: Client) => BoothQueue.parse((await voter.get(`/api/booth/${token}/bouts`)).body);
const cast = (voter: Client, boutToken: string, ballot: object) =>
  voter.post(`/api/booth/bouts/${boutToken}/ballot`, ballot);
const standings = (): Promise<Standings> => server.services.standings.getStandings(edition.id);

describe("the booth", () => {
  it("gives the bout at hand and the next one, the same until it is answered", async () => {
    const voter = await join();
    const first = await queueOf(voter);
    expect(first).toMatchObject({ done: 0, quota: 6, canTakeBack: false, exhausted: false });
    expect(first.bouts).toHaveLength(2);
    expect(await queueOf(voter)).toEqual(first);
    await cast(voter, first.bouts[0]!.token, BALLOT);
    const second = await queueOf(voter);
    expect(second.bouts[0]).toEqual(first.bouts[1]);
  });

  it("counts a ballot once, however often it is sent, and refuses another for the same bout", async () => {
    const voter = await join();
    const [bout] = (await queueOf(voter)).bouts;
    const before = (await standings()).ballots;
    await Promise.all([1, 2, 3].map(() => cast(voter, bout!.token, BALLOT)));
    expect(await cast(voter, bout!.token, BALLOT)).toMatchObject({ status: 201, body: { done: 1 } });
    expect(await cast(voter, bout!.token, { ...BALLOT, lean: 1 })).toMatchObject({ status: 409 });
    expect((await standings()).ballots).toBe(before + 1);
  });

  it("does all that comes at once: many voters' ballots share statements, and each is counted once", async () => {
    const voters = await Promise.all(Array.from({ length: 12 }, join));
    const before = (await standings()).ballots;
    const queues = await Promise.all(voters.map(queueOf));
    const sent = voters.flatMap((voter, index) =>
      // Each twice, as an impatient browser does.
      [1, 2].map(() => cast(voter, queues[index]!.bouts[0]!.token, { ...BALLOT, lean: (index % 5) - 2 })),
    );
    const receipts = await Promise.all(sent);
    for (const { status, body } of receipts) expect([status, (body as { done: number }).done]).toEqual([201, 1]);
    const next = await Promise.all(voters.map(queueOf));
    for (const [index, { done, bouts }] of next.entries()) {
      expect(done).toBe(1);
      expect(bouts.map(({ ordinal }) => ordinal)).toEqual([2, 3]);
      expect(bouts[0]).toEqual(queues[index]!.bouts[1]);
    }
    expect((await standings()).ballots).toBe(before + 12);
  });

  it("opens the bout again when the ballot is taken back", async () => {
    const voter = await join();
    const [bout] = (await queueOf(voter)).bouts;
    await cast(voter, bout!.token, BALLOT);
    const before = (await standings()).ballots;
    expect((await voter.delete(`/api/booth/${token}/last-ballot`)).body).toMatchObject({ done: 0, quota: 6 });
    expect((await standings()).ballots).toBe(before - 1);
    expect((await queueOf(voter)).bouts[0]!.token).toBe(bout!.token);
    expect((await cast(voter, bout!.token, { ...BALLOT, lean: 2 })).status).toBe(201);
    await voter.delete(`/api/booth/${token}/last-ballot`);
    expect((await voter.delete(`/api/booth/${token}/last-ballot`)).status).toBe(409);
  });

  it("takes no ballot from anyone but the voter it was shown to", async () => {
    const [owner, stranger] = [await join(), await join()];
    const [bout] = (await queueOf(owner)).bouts;
    expect((await cast(stranger, bout!.token, BALLOT)).status).toBe(404);
    expect((await cast(new Client(server.origin), bout!.token, BALLOT)).status).toBe(404);
    expect((await new Client(server.origin).get(`/api/booth/${token}/bouts`)).status).toBe(401);
  });

  it.each([{ lean: 3, dwellMs: 1 }, { lean: 0.5, dwellMs: 1 }, { lean: 0 }, { lean: 0, dwellMs: 1, entrantId: "x" }])(
    "refuses the ballot %j",
    async (ballot) => {
      const voter = await join();
      const [bout] = (await queueOf(voter)).bouts;
      expect((await cast(voter, bout!.token, ballot)).status).toBe(400);
    },
  );

  it("ends at the quota, after every pair exactly once", async () => {
    const voter = await join();
    const seen = new Set<string>();
    for (let queue = await queueOf(voter); queue.bouts[0]; queue = await queueOf(voter)) {
      seen.add(queue.bouts[0].token);
      await cast(voter, queue.bouts[0].token, BALLOT);
    }
    expect(seen.size).toBe(6);
    expect(await queueOf(voter)).toMatchObject({ done: 6, bouts: [] });
  });

  it("keeps two voters' bouts apart when they ask at once", async () => {
    const voters = await Promise.all(Array.from({ length: 8 }, () => join()));
    const queues = await Promise.all(voters.flatMap((voter) => [queueOf(voter), queueOf(voter)]));
    expect(new Set(queues.flatMap(({ bouts }) => bouts.map((bout) => bout.token))).size).toBe(16);
  });

  it("says nothing of who made what: not in bodies, headers or addresses", async () => {
    const voter = await join();
    const { text, headers } = await voter.get(`/api/booth/${token}/bouts`);
    const [bout] = (await queueOf(voter)).bouts;
    const stages = await Promise.all([bout!.leftUrl, bout!.rightUrl].map((url) => fetch(url)));
    const bodies = await Promise.all(stages.map((stage) => stage.text()));
    const received = [
      text,
      JSON.stringify([...headers]),
      ...bodies,
      ...stages.map((stage) => JSON.stringify([...stage.headers]) + stage.url),
    ].join("\n");
    const entrants = await server.services.entrants.list();
    const wall = await server.services.wall.getWall(edition.id);
    const secrets = [
      ...entrants.flatMap(({ id, key, name }) => [id, key, name]),
      ...wall.cells.map(({ entryId }) => entryId!),
      ...wall.prompts.map(({ id }) => id),
    ];
    expect(secrets.filter((secret) => received.includes(secret))).toEqual([]);
  });

  it("serves both stages under the same headers, sandboxed, and nothing under a guessed address", async () => {
    const voter = await join();
    const [bout] = (await queueOf(voter)).bouts;
    const headersOf = async (url: string) => {
      const response = await fetch(url);
      const kept = [...response.headers].filter(([name]) => !["date", "x-request-id", "content-length"].includes(name));
      return { status: response.status, kept };
    };
    const [left, right] = [await headersOf(bout!.leftUrl), await headersOf(bout!.rightUrl)];
    expect(left).toEqual(right);
    const policy = new Map(left.kept).get("content-security-policy")!;
    expect(policy).toContain("sandbox allow-scripts");
    expect(policy).not.toContain("allow-same-origin");
    expect(policy).toContain("default-src 'none'");
    expect((await headersOf(bout!.leftUrl.replace(/stage\/[^/]+/, "stage/AAAAAAAAAAAAAAAAAAAAAAAA"))).status).toBe(404);
    expect((await headersOf(bout!.leftUrl.replace(/page$/, "../../../etc/passwd"))).status).toBe(404);
  });
});

describe("whoever asks too often", () => {
  it("is told to wait, in the words and the form of every other refusal, and nobody else is", async () => {
    const headers = { Cookie: `tourney_voter_x=${"A".repeat(24)}` };
    const ask = () => fetch(`${server.origin}/api/booth/${token}`, { headers });
    const statuses: number[] = [];
    for (let round = 0; round < 12; round++)
      statuses.push(...(await Promise.all(Array.from({ length: 50 }, ask))).map(({ status }) => status));
    expect(new Set(statuses)).toEqual(new Set([200]));
    const refused = await ask();
    expect(refused.status).toBe(429);
    expect(await refused.json()).toMatchObject({
      code: "RATE_LIMITED",
      remedy: expect.stringContaining("Wait") as string,
    });
    expect((await (await join()).get(`/api/booth/${token}`)).status).toBe(200);
  });
});

describe("the standings", () => {
  it("move with the ballots and carry intervals once voters and prompts allow", async () => {
    const now = await standings();
    const { rows, ballots, voters, prompts } = now;
    expect(ballots).toBeGreaterThan(6);
    expect([voters >= 2, prompts]).toEqual([true, 2]);
    for (const { rating, halfWidth, rankRange } of rows) {
      expect(rating).toBeGreaterThan(500);
      expect(halfWidth).toBeGreaterThan(0);
      expect(rankRange![0]).toBeLessThanOrEqual(rankRange![1]);
    }
    const [a, b] = [findHeadToHead(now, 0, 1)!, findHeadToHead(now, 1, 0)!];
    expect(a.ballots).toBe(b.ballots);
    expect(a.share! + b.share!).toBeCloseTo(1, 12);
  });
});
