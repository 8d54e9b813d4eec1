import { type Edition, EVERYTHING, StandingsChanges, StandingsSnapshot } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { castBallots } from "../../test-support/cast-ballots.js";
import { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let edition: Edition;
let lead: Client;
let token: string;

beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 9, message: "" });
  token = panel.url.split("/").at(-1)!;
  for (const seed of [1, 2]) await castBallots(server, { token, seed, ballots: 5 });
});
afterAll(() => server.close());

const standings = () => server.services.standings.getStandings(edition.id);
const path = () => `/api/editions/${edition.id}/snapshots`;
const take = async (name: string, counts: object = {}) =>
  StandingsSnapshot.parse((await lead.post(path(), { name, counts })).body);
const changes = async (id: string, until = "") =>
  StandingsChanges.parse((await lead.get(`/api/snapshots/${id}/changes${until && `?until=${until}`}`)).body);
const castSince = async (seed: number) => {
  const before = (await standings()).ballots;
  await castBallots(server, { token, seed, ballots: 4 });
  return (await standings()).ballots - before;
};

describe("a snapshot of standings", () => {
  it("keeps the figures, the choice, the method and a digest of what counted", async () => {
    const shown = await standings();
    const snapshot = await take("Monday");
    expect(snapshot).toMatchObject({ name: "Monday", counts: EVERYTHING, ballots: shown.ballots });
    expect(snapshot.methodVersion).toBe(shown.methodVersion);
    expect((await take("Monday again")).inputDigest).toBe(snapshot.inputDigest);
    const same = await changes(snapshot.id);
    expect(same).toMatchObject({ isSameMethod: true, isSameChoice: true, reasons: [], ballots: [] });
    expect(same.from.inputDigest).toBe(same.to.inputDigest);
    const figures = ({ rows }: typeof shown) => rows.map(({ entrant, rating }) => [entrant.key, rating]);
    expect(same.rows.map(({ entrant, from, to }) => [entrant.key, from?.rating, to?.rating])).toEqual(
      figures(shown).map(([key, rating]) => [key, rating, rating]),
    );
  });

  it("says which ballots made the difference since, and why each does or does not count", async () => {
    const snapshot = await take("before");
    const shown = await standings();
    const cast = await castSince(3);
    expect(cast).toBeGreaterThan(0);
    const { ballots } = await server.services.ballotList.list(edition.id, { only: "all" });
    const voided = ballots.find((ballot) => ballot.voided === null && ballot.voterName === "Voter 1")!;
    await server.services.ballotList.void(voided.id, "a slip");
    const [second] = await server.db.select(z.object({ id: z.uuid() }), "SELECT id FROM voters WHERE name = 'Voter 2'");
    const own = ballots.filter((ballot) => ballot.voided === null && ballot.voterId === second!.id).length;
    await server.services.panels.leaveVoterOut(second!.id, "in jest");

    const changed = await changes(snapshot.id);
    expect(changed.reasons).toHaveLength(3);
    expect(changed.reasons).toEqual(
      expect.arrayContaining([
        { change: "counts now", why: "cast since", ballots: cast },
        { change: "counts no more", why: "voided: a slip", ballots: 1 },
        { change: "counts no more", why: "the voter is left out: in jest", ballots: own },
      ]),
    );
    expect(changed.to.ballots).toBe(changed.from.ballots + cast - 1 - own);
    expect(changed.to.inputDigest).not.toBe(changed.from.inputDigest);
    const gone = changed.ballots.find(({ ballotId }) => ballotId === voided.id)!;
    expect(gone).toMatchObject({ change: "counts no more", voterName: "Voter 1", leftEntryId: voided.leftEntryId });
    // What was kept stays as it was.
    for (const { entrant, from } of changed.rows)
      expect(from?.rating).toBe(shown.rows.find((row) => row.entrant.id === entrant.id)!.rating);
    for (const { entrant, to } of changed.rows)
      expect(to?.rating).toBe((await standings()).rows.find((row) => row.entrant.id === entrant.id)!.rating);
    await server.services.panels.leaveVoterOut(second!.id, null);
    await server.services.ballotList.restore(voided.id);
    expect((await changes(snapshot.id)).reasons).toEqual([{ change: "counts now", why: "cast since", ballots: cast }]);
  });

  it("is held against a later one, also of another choice, and never against one of another edition", async () => {
    const all = await take("all");
    const one = await take("on one", { prompt: ["one"] });
    const changed = await changes(all.id, one.id);
    expect(changed).toMatchObject({ isSameChoice: false, to: { name: "on one", ballots: one.ballots } });
    const left = { change: "counts no more", why: "something else is chosen to count" };
    expect(changed.reasons).toMatchObject([{ ...left, ballots: all.ballots - one.ballots }]);
    expect((await changes(one.id)).ballots).toEqual([]);
    const yaml = suiteYaml("other").replace("key: a-suite", "key: another");
    const { edition: other } = await server.services.suites.importSuite(yaml);
    const elsewhere = await server.services.snapshots.take(other.id, { name: "?", counts: EVERYTHING });
    expect((await lead.get(`/api/snapshots/${all.id}/changes?until=${elsewhere.id}`)).status).toBe(409);
    expect((await lead.get(`/api/snapshots/${other.id}/changes`)).status).toBe(404);
  });

  it("says that the method changed, and leaves the kept figures as they were", async () => {
    const snapshot = await take("by an older method");
    await server.db.execute(
      `INSERT INTO standings_snapshots (edition_id, name, counts, method_version, input_digest, ballots, rows, counted)
       SELECT edition_id, 'older', counts, 'older/1', input_digest, ballots, jsonb_set(rows, '{0,rating}', '1234'), counted
       FROM standings_snapshots WHERE id = $1`,
      [snapshot.id],
    );
    const listed = z.array(StandingsSnapshot).parse((await lead.get(path())).body);
    const older = await changes(listed.find(({ name }) => name === "older")!.id);
    expect(older).toMatchObject({ isSameMethod: false, from: { methodVersion: "older/1" }, reasons: [] });
    expect(older.rows[0]!.from!.rating).toBe(1234);
    await expect(server.db.execute("UPDATE standings_snapshots SET rows = '[]'")).rejects.toThrow("never changes");
  });

  it("is removed from the list, and put back", async () => {
    const snapshot = await take("for a while");
    const names = async () =>
      z
        .array(StandingsSnapshot)
        .parse((await lead.get(path())).body)
        .map(({ name }) => name);
    await lead.put(`/api/snapshots/${snapshot.id}`, { removed: true });
    expect(await names()).not.toContain("for a while");
    await lead.put(`/api/snapshots/${snapshot.id}`, { removed: false });
    expect(await names()).toContain("for a while");
    expect((await new Client(server.origin).get(path())).status).toBe(401);
  });
});
