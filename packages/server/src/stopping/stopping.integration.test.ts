import { BoothQueue, type Edition, StoppingState } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let edition: Edition;
let token: string;
let voters = 0;
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(
    suiteYaml("one", "two", "three", "four", "five", "six", "seven", "eight"),
  ));
  await makeEntries(server, edition, ["gorse", "heath"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 8, message: "" });
  token = panel.url.split("/").at(-1)!;
});
afterAll(() => server.close());

/** New voters who mostly choose the same entrant's pages, eight ballots each. */
async function castFor(key: string, count: number): Promise<void> {
  for (let voter = 0; voter < count; voter++) {
    const client = new Client(server.origin);
    await client.post(`/api/booth/${token}/voters`, { name: `Voter ${++voters}` });
    let queue = BoothQueue.parse((await client.get(`/api/booth/${token}/bouts`)).body);
    while (queue.bouts[0]) {
      const bout = (await server.db.models.Bout.findOne({ where: { token: queue.bouts[0].token } }))!;
      const left = await server.services.entries.getDetail(bout.leftEntryId);
      // Now and then even, as people are.
      const far = [1, 2, 1, 0, 1, -1][(voters + bout.ordinal) % 6]!;
      const lean = left.entrant.key === key ? -far : far;
      await client.post(`/api/booth/bouts/${queue.bouts[0].token}/ballot`, { lean, dwellMs: 3000 });
      queue = BoothQueue.parse((await client.get(`/api/booth/${token}/bouts`)).body);
    }
  }
}
const state = (): Promise<StoppingState> => server.services.stopping.getState(edition.id);
const PLAN = { goal: { kind: "first", count: 1 }, mostBallots: 152, looks: 2 } as const;

describe("a stopping plan", () => {
  it("is not there before it is set", async () => {
    expect(await state()).toEqual({ plan: null, earlier: [], ballots: 0, looks: [], metAfter: null, isOver: false });
  });

  it("is set before the ballots it looks at, looks at none in between, and says when it is met", async () => {
    await castFor("gorse", 1);
    const set = await server.services.stopping.set(edition.id, PLAN);
    expect(set).toMatchObject({ plan: { ballotsBefore: 8 }, ballots: 8, isOver: false });
    expect(set.looks.map(({ ballots, isMet }) => [ballots, isMet])).toEqual([
      [80, null],
      [152, null],
    ]);
    await castFor("gorse", 8);
    expect((await state()).looks[0]!.isMet).toBeNull();
    await castFor("gorse", 1);
    expect(await state()).toMatchObject({
      ballots: 80,
      metAfter: 80,
      isOver: true,
      looks: [{ isMet: true }, { isMet: null }],
    });
    // What comes later does not change what was found at a look.
    await castFor("heath", 9);
    expect(await state()).toMatchObject({ metAfter: 80, looks: [{ isMet: true, reached: 1 }, {}] });
  });

  it("cannot be changed: another can be set only when it is given up, and it stays on record", async () => {
    const { plan } = await state();
    await expect(server.services.stopping.set(edition.id, { ...PLAN, mostBallots: 190 })).rejects.toThrow("Another");
    await expect(server.db.models.StoppingPlan.update({ looks: 1 }, { where: { id: plan!.id } })).rejects.toThrow();
    await server.services.stopping.setGivenUp(plan!.id, true);
    expect(await state()).toMatchObject({ plan: null, earlier: [{ id: plan!.id }], looks: [] });
    await server.services.stopping.setGivenUp(plan!.id, false);
    expect(await state()).toMatchObject({ plan: { id: plan!.id }, earlier: [] });
    await server.services.stopping.setGivenUp(plan!.id, true);
    const next = await server.services.stopping.set(edition.id, {
      goal: { kind: "within", points: 40 },
      mostBallots: 200,
      looks: 5,
    });
    expect(next.plan!.ballotsBefore).toBe(next.ballots);
    await expect(server.services.stopping.setGivenUp(plan!.id, false)).rejects.toThrow("Another");
  });

  it("is refused where it would be over before it begins, by the API too", async () => {
    await server.services.stopping.setGivenUp((await state()).plan!.id, true);
    const lead = await signIn(server);
    const post = (body: object) => lead.post(`/api/editions/${edition.id}/stopping`, body);
    expect(await post({ ...PLAN, mostBallots: 10 })).toMatchObject({ status: 400 });
    expect(await post({ ...PLAN, looks: 0 })).toMatchObject({ status: 400 });
    expect(await post({ ...PLAN, goal: { kind: "best" } })).toMatchObject({ status: 400 });
    const made = await post({ ...PLAN, mostBallots: 500 });
    expect(made.status).toBe(201);
    expect(StoppingState.parse(made.body).plan).not.toBeNull();
  });
});
