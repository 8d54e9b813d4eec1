import {
  type AuditLine,
  BallotLine,
  BallotList,
  BoothQueue,
  type Edition,
  EVERYTHING,
  type Standings,
} from "@tourney/core/contract";
import { findHeadToHead } from "@tourney/core/standings";
import { writeCounts } from "@tourney/core/what-counts";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Client } from "../../test-support/client.js";
import { byHand, makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let edition: Edition;
let lead: Client;
let voter: Client;
let token: string;
const list = async (query = ""): Promise<BallotList> =>
  BallotList.parse((await lead.get(`/api/editions/${edition.id}/ballots${query}`)).body);
const counted = async (): Promise<number> => {
  const standings: Standings = await server.services.standings.getStandings(edition.id);
  return standings.ballots;
};

beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three", "four")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge", "marl", "fern", "rush"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 60 });
  token = panel.url.split("/").at(-1)!;
  voter = new Client(server.origin);
  await voter.post(`/api/booth/${token}/voters`, { name: "Una" });
  for (let done = 0; done < 55; done++)
    await castOne(done === 3 ? { note: "The gate sticks.", rightWorks: false, seenWith: SEEN_WITH } : {});
});
afterAll(() => server.close());

const SEEN_WITH = { width: 390, height: 844, pointer: "touch", frameRate: 58 };
const queueOf = async () => BoothQueue.parse((await voter.get(`/api/booth/${token}/bouts`)).body);

async function castOne(more: object): Promise<void> {
  const { bouts } = await queueOf();
  if (bouts[0])
    expect(
      (await voter.post(`/api/booth/bouts/${bouts[0].token}/ballot`, { lean: 1, dwellMs: 900, ...more })).status,
    ).toBe(201);
}

describe("the list of ballots", () => {
  it("is for the lead alone", async () => {
    expect((await voter.get(`/api/editions/${edition.id}/ballots`)).status).toBe(401);
  });

  it("has every ballot once, newest first, over its pages", async () => {
    const first = await list();
    expect(first.ballots).toHaveLength(50);
    const rest = await list(`?before=${first.before}`);
    expect(rest.before).toBeNull();
    const all = [...first.ballots, ...rest.ballots];
    expect(all).toHaveLength(first.total);
    expect(new Set(all.map(({ id }) => id)).size).toBe(first.total);
    expect(all.map(({ ordinal }) => ordinal)).toEqual(all.map(({ ordinal }) => ordinal).toSorted((a, b) => b - a));
    expect(all[0]).toMatchObject({ voterName: "Una", lean: 1, dwellMs: 900, voided: null });
    expect((await lead.get(`/api/editions/${edition.id}/ballots?before=yesterday`)).status).toBe(400);
  });

  it("is of an entrant, a pair, a prompt or a panel, which add up to what the standings count", async () => {
    const now = await server.services.standings.getStandings(edition.id);
    const { rows, sources } = now;
    const that = "&only=that%20count";
    for (const [i, row] of rows.entries()) {
      const own = await list(`?ofId=${row.version.id}${that}`);
      expect(own.total).toBe(row.ballots);
      for (const { leftEntrantId, rightEntrantId } of own.ballots)
        expect([leftEntrantId, rightEntrantId]).toContain(row.entrant.id);
      const other = rows[(i + 1) % rows.length]!.version.id;
      const met = findHeadToHead(now, i, (i + 1) % rows.length)!.ballots;
      expect((await list(`?ofId=${row.version.id}&againstId=${other}${that}`)).total).toBe(met);
    }
    const onPrompts = await Promise.all(edition.prompts.map(({ id }) => list(`?promptId=${id}${that}`)));
    expect(onPrompts.reduce((sum, { total }) => sum + total, 0)).toBe(
      (await list(`?panelId=${sources[0]!.panelId}${that}`)).total,
    );
    expect(onPrompts[0]!.ballots.every(({ promptTitle }) => promptTitle === edition.prompts[0]!.title)).toBe(true);
    expect((await list(`?panelId=${sources[0]!.panelId}${that}`)).total).toBe(sources[0]!.ballots);
    expect((await list(`?ofId=${edition.id}`)).total).toBe(0);
    // Under a choice, a figure's ballots are those that count by it.
    const [chosen] = edition.prompts;
    const counts = { ...EVERYTHING, prompt: [chosen!.key] };
    const narrow = await server.services.standings.getStandings(edition.id, counts);
    const counting = `&counting=${encodeURIComponent(new URLSearchParams(writeCounts(counts)).toString())}`;
    for (const { version, ballots } of narrow.rows)
      expect((await list(`?ofId=${version.id}${that}${counting}`)).total).toBe(ballots);
    expect(narrow.ballots).toBeLessThan(rows.reduce((sum, { ballots }) => sum + ballots, 0) / 2);
    expect((await list()).ballots.every(({ askedBecause }) => askedBecause.length > 3)).toBe(true);
  });

  it("shows what voters noted, and the ballots of one voter", async () => {
    const { ballots, total } = await list("?only=with a note".replaceAll(" ", "%20"));
    expect(total).toBe(1);
    expect(ballots[0]).toMatchObject({ note: "The gate sticks.", leftWorks: true, rightWorks: false });
    // What it was seen with is kept, leaves with the ballot, and is nothing that a voter can make up at will.
    expect(ballots[0]!.seenWith).toEqual(SEEN_WITH);
    expect((await list()).ballots.find(({ note }) => note === "")!.seenWith).toBeNull();
    const { text } = await lead.get(`/api/editions/${edition.id}/exports/ballots.csv`);
    expect(text).toContain("390×844,touch,58");
    // One set-up is nothing to compare; two are.
    const seeing = () => server.services.standings.getRatingsBySeeing(edition.id);
    expect(await seeing()).toEqual([]);
    await server.db.execute(
      "UPDATE ballots SET seen_with = jsonb_build_object('width', 1280, 'height', 800, 'pointer', 'mouse', 'frameRate', 60) WHERE note = ''",
    );
    const groups = (await seeing()).map(({ by, name, ballots: n }) => `${by}: ${name}, ${n}`);
    const rest = (await counted()) - 1;
    expect(groups).toEqual([
      ...[`window: 1,200 px wide or more, ${rest}`, "window: under 700 px wide, 1"],
      ...[`pointer: mouse, ${rest}`, "pointer: touch, 1"],
    ]);
    const { bouts } = await queueOf();
    for (const wrong of [
      { ...SEEN_WITH, width: -1 },
      { ...SEEN_WITH, more: 1 },
      { ...SEEN_WITH, pointer: "<b>" },
    ]) {
      const ballot = { lean: 1, dwellMs: 900, seenWith: wrong };
      expect((await voter.post(`/api/booth/bouts/${bouts[0]?.token ?? "x"}/ballot`, ballot)).status).toBe(400);
    }
    expect((await list(`?voterId=${ballots[0]!.voterId}`)).total).toBeGreaterThan(50);
    expect((await list(`?voterId=${edition.id}`)).total).toBe(0);
  });
});

describe("a ballot that the lead voids", () => {
  it("counts no more, is kept with who and why, and can count again", async () => {
    const [ballot] = (await list()).ballots;
    const before = await counted();
    const voided = BallotLine.parse(
      (await lead.put(`/api/ballots/${ballot!.id}/void`, { why: "cast by mistake" })).body,
    );
    expect(voided).toMatchObject({ id: ballot!.id, lean: 1, voided: { by: "lead", why: "cast by mistake" } });
    expect(await counted()).toBe(before - 1);
    expect((await list("?only=voided")).ballots.map(({ id }) => id)).toEqual([ballot!.id]);
    expect((await lead.put(`/api/ballots/${ballot!.id}/void`, { why: "again" })).status).toBe(409);
    expect((await lead.delete(`/api/ballots/${ballot!.id}/void`)).body).toMatchObject({ voided: null });
    expect(await counted()).toBe(before);
    const trail = (await lead.get(`/api/editions/${edition.id}/audit-trail`)).body as AuditLine[];
    expect(trail.slice(0, 2).map(({ actor, action, voterName }) => [actor, action, voterName])).toEqual([
      ["lead", "let a ballot count again", "Una"],
      ["lead", "voided a ballot", "Una"],
    ]);
  });

  it("is not asked for again, and counts among what its voter has done", async () => {
    const [ballot] = (await list()).ballots;
    const { done, bouts } = await queueOf();
    await lead.put(`/api/ballots/${ballot!.id}/void`, { why: "a test" });
    expect(await queueOf()).toMatchObject({ done, bouts });
    expect((await voter.get(`/api/booth/${token}`)).body).toMatchObject({ done });
    await lead.delete(`/api/ballots/${ballot!.id}/void`);
  });

  it("cannot count again when its voter took it back", async () => {
    await voter.delete(`/api/booth/${token}/last-ballot`);
    const [taken] = (await list("?only=voided")).ballots;
    expect(taken).toMatchObject({ voided: { by: "voter" } });
    expect((await lead.delete(`/api/ballots/${taken!.id}/void`)).status).toBe(409);
    expect((await lead.put(`/api/ballots/${edition.id}/void`, { why: "none" })).status).toBe(404);
    expect((await lead.put(`/api/ballots/${taken!.id}/void`, { why: " " })).status).toBe(400);
  });
});

describe("a ballot that its voter takes back", () => {
  it("stays on the list, and is none of those that count", async () => {
    await castOne({});
    const [all, counting] = [(await list()).total, (await list("?only=that%20count")).total];
    expect(counting).toBe(await counted());
    expect((await voter.delete(`/api/booth/${token}/last-ballot`)).status).toBeLessThan(300);
    expect((await list()).total).toBe(all);
    expect((await list("?only=that%20count")).total).toBe(counting - 1);
    await castOne({});
    expect((await list("?only=that%20count")).total).toBe(counting);
  });
});

describe("a ballot on an entrant that is set up otherwise", () => {
  it("is none of those that count any more", async () => {
    const total = async () => (await list("?only=that%20count")).total;
    const before = await total();
    const fern = (await server.services.entrants.list()).find(({ key }) => key === "fern")!;
    const ofFern = (await list(`?only=that%20count&ofId=${fern.versionId}`)).total;
    expect(ofFern).toBeGreaterThan(0);
    expect((await lead.put(`/api/entrants/${fern.id}`, { ...byHand("fern"), model: "fern-next" })).status).toBe(200);
    expect(await total()).toBe(before - ofFern);
  });
});
