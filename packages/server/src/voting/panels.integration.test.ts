import { BoothQueue, type BoothState, type Edition, type Panel } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { Client } from "../../test-support/client.js";
import { makeEntries, RECORDING, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

const BALLOT = { lean: -1, dwellMs: 3000 };

let server: TestServer;
let edition: Edition;
let lead: Client;
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
  lead = await signIn(server);
});
afterAll(() => server.close());

const addPanel = (more: object = {}) =>
  server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 9, ...more });
const tokenOf = ({ url }: Panel) => url.split("/").at(-1)!;
async function join(panel: Panel): Promise<Client> {
  const voter = new Client(server.origin);
  expect((await voter.post(`/api/booth/${tokenOf(panel)}/voters`, {})).status).toBe(201);
  return voter;
}
const queueOf = async (voter: Client, panel: Panel) =>
  BoothQueue.parse((await voter.get(`/api/booth/${tokenOf(panel)}/bouts`)).body);
const cast = (voter: Client, token: string) => voter.post(`/api/booth/bouts/${token}/ballot`, BALLOT);
const countBallots = async () => (await server.services.standings.getStandings(edition.id)).ballots;
const voterOf = async (panel: Panel) =>
  (await server.services.panels.list(edition.id)).find(({ id }) => id === panel.id)!.voters[0]!;

/** Gives every entry of an entrant this recording. */
async function recordAs(entrantId: string, recording: object): Promise<void> {
  await server.db.execute(
    `UPDATE renders r SET recording = $1::jsonb FROM entries e JOIN generations g ON g.id = e.generation_id
     WHERE r.entry_id = e.id AND g.entrant_id = $2`,
    [JSON.stringify(recording), entrantId],
  );
}

/** Casts more ballots than there are pairs: now and then one is shown twice. */
async function castAll(voter: Client, panel: Panel): Promise<void> {
  for (let i = 0; i < 9; i++) {
    const { bouts } = await queueOf(voter, panel);
    if (bouts[0]) await cast(voter, bouts[0].token);
  }
}

describe("a panel", () => {
  it("shows its own prompts and entrants only", async () => {
    const [one] = edition.prompts;
    const entrants = (await server.services.entrants.list()).filter(({ key }) => key !== "sedge");
    const panel = await addPanel({ promptIds: [one!.id], entrantIds: entrants.map(({ id }) => id) });
    const voter = await join(panel);
    const { bouts } = await queueOf(voter, panel);
    expect(bouts.map(({ prompt }) => prompt.title)).toEqual(["one"]);
    await cast(voter, bouts[0]!.token);
    expect(await queueOf(voter, panel)).toMatchObject({ bouts: [], exhausted: true });
  });

  it("takes no ballot after its closing time, and keeps those before", async () => {
    const panel = await addPanel();
    const voter = await join(panel);
    const { bouts } = await queueOf(voter, panel);
    await cast(voter, bouts[0]!.token);
    const past = new Date(Date.now() - 1000).toISOString();
    const { title, quota } = panel;
    expect((await lead.put(`/api/panels/${panel.id}`, { title, quota, closesAt: past })).status).toBe(200);
    expect((await cast(voter, bouts[1]!.token)).status).toBe(409);
    expect(await queueOf(voter, panel)).toMatchObject({ done: 1, bouts: [], canTakeBack: false });
  });

  it("with a closed invitation makes no new voters, and lets the others go on", async () => {
    const panel = await addPanel();
    const voter = await join(panel);
    await lead.put(`/api/panels/${panel.id}/invitation`, { open: false });
    expect((await new Client(server.origin).post(`/api/booth/${tokenOf(panel)}/voters`, {})).status).toBe(403);
    expect((await queueOf(voter, panel)).bouts).toHaveLength(2);
  });

  it("counts a broken entry as lost without showing it, where that is the rule", async () => {
    const { id, versionId } = (await server.services.entrants.list()).find(({ key }) => key === "sedge")!;
    const broken = {
      ...RECORDING,
      findings: [{ rule: "blank", severity: "error", message: "x", atMs: 0, evidence: "x" }],
    };
    await recordAs(id, broken);
    const panel = await addPanel({ brokenRule: "lose" });
    const voter = await join(panel);
    await castAll(voter, panel);
    const rows = await server.db.select(
      z.object({ automatic: z.boolean(), sedge: z.boolean(), lost: z.boolean() }),
      `SELECT o.is_automatic AS automatic, $2 IN (o.left_version_id, o.right_version_id) AS sedge,
         CASE WHEN o.left_version_id = $2 THEN b.lean = 2 AND NOT b.left_works ELSE b.lean = -2 AND NOT b.right_works END AS lost
       FROM bouts o JOIN ballots b ON b.bout_id = o.id JOIN voters v ON v.id = o.voter_id
       WHERE v.panel_id = $1 AND NOT o.is_repeat`,
      [panel.id, versionId],
    );
    expect(rows.filter(({ sedge }) => sedge)).toHaveLength(6);
    expect(rows.filter(({ sedge }) => !sedge).map(({ automatic }) => automatic)).toEqual([false, false, false]);
    for (const { sedge, automatic, lost } of rows) if (sedge) expect([automatic, lost]).toEqual([true, true]);
    // What was counted unseen is no part of what the voter has done.
    const { ballots } = await voterOf(panel);
    expect((await queueOf(voter, panel)).done).toBeLessThanOrEqual(ballots - 6);
    await server.db.execute("UPDATE renders SET recording = $1::jsonb", [JSON.stringify(RECORDING)]);
  });

  it("tells a voter what a page asks a machine for, on its own side", async () => {
    const { id } = (await server.services.entrants.list()).find(({ key }) => key === "sedge")!;
    const needy = { rule: "needs_device", severity: "note", message: "Asks for a gamepad", atMs: null, evidence: "x" };
    await recordAs(id, { ...RECORDING, findings: [needy] });
    const panel = await addPanel();
    const { bouts } = await queueOf(await join(panel), panel);
    const said = bouts.flatMap(({ leftNeeds, rightNeeds }) => [leftNeeds.join(), rightNeeds.join()]);
    // One side of each bout that the entrant is in, and no other.
    expect(new Set(said)).toEqual(new Set(["", "Asks for a gamepad"]));
    await server.db.execute("UPDATE renders SET recording = $1::jsonb", [JSON.stringify(RECORDING)]);
  });

  it("shows an entry that is blank for want of a library, and lets it lose to nobody unseen", async () => {
    const { id } = (await server.services.entrants.list()).find(({ key }) => key === "sedge")!;
    const excused = {
      ...RECORDING,
      findings: [
        {
          rule: "blank",
          severity: "note",
          message: "x",
          atMs: 0,
          evidence: "x",
          followsFrom: "knots is not on the shelf",
        },
      ],
    };
    await recordAs(id, excused);
    const panel = await addPanel({ brokenRule: "lose" });
    const voter = await join(panel);
    await castAll(voter, panel);
    const [automatic] = await server.db.select(
      z.object({ n: z.int() }),
      "SELECT count(*)::int AS n FROM bouts o JOIN voters v ON v.id = o.voter_id WHERE v.panel_id = $1 AND o.is_automatic",
      [panel.id],
    );
    expect(automatic!.n).toBe(0);
    await server.db.execute("UPDATE renders SET recording = $1::jsonb", [JSON.stringify(RECORDING)]);
  });
});

describe("a voter", () => {
  it("goes on in another browser by a link of its own", async () => {
    const panel = await addPanel();
    const first = await join(panel);
    const { bouts } = await queueOf(first, panel);
    await cast(first, bouts[0]!.token);
    const { ownUrl } = (await first.get(`/api/booth/${tokenOf(panel)}`)).body as BoothState;
    const [, voterToken] = ownUrl!.split("#");
    const second = new Client(server.origin);
    expect((await second.post(`/api/booth/${tokenOf(panel)}/resume`, { voterToken })).body).toMatchObject({ done: 1 });
    expect((await queueOf(second, panel)).bouts[0]!.token).toBe(bouts[1]!.token);
    const wrong = await second.post(`/api/booth/${tokenOf(panel)}/resume`, { voterToken: "x".repeat(24) });
    expect(wrong.status).toBe(404);
  });

  it("who was invited by name votes by the personal link, until access is ended", async () => {
    const panel = await addPanel();
    const made = (await lead.post(`/api/panels/${panel.id}/voters`, { names: ["Una", "Callum"] })).body as Panel;
    expect(made.voters.map(({ name }) => name).toSorted()).toEqual(["Callum", "Una"]);
    const una = made.voters.find(({ name }) => name === "Una")!;
    const browser = new Client(server.origin);
    const voterToken = una.url!.split("#")[1];
    await browser.post(`/api/booth/${tokenOf(panel)}/resume`, { voterToken });
    const { bouts } = await queueOf(browser, panel);
    await cast(browser, bouts[0]!.token);
    await lead.put(`/api/voters/${una.id}/access`, { revoked: true });
    expect((await cast(browser, bouts[1]!.token)).status).toBe(403);
    await lead.put(`/api/voters/${una.id}/access`, { revoked: false });
    expect((await cast(browser, bouts[1]!.token)).status).toBe(201);
  });

  it("can be left out of the ratings and taken in again, and the trail says so", async () => {
    const panel = await addPanel();
    const voter = await join(panel);
    const { bouts } = await queueOf(voter, panel);
    const before = await countBallots();
    await cast(voter, bouts[0]!.token);
    expect(await countBallots()).toBe(before + 1);
    const { id } = await voterOf(panel);
    await lead.put(`/api/voters/${id}/left-out`, { why: "leans left always" });
    expect(await countBallots()).toBe(before);
    // Neither what is cast nor what is taken back meanwhile counts.
    await cast(voter, bouts[1]!.token);
    await voter.delete(`/api/booth/${tokenOf(panel)}/last-ballot`);
    expect(await countBallots()).toBe(before);
    await lead.delete(`/api/voters/${id}/left-out`);
    expect(await countBallots()).toBe(before + 1);
    const trail = (await lead.get(`/api/editions/${edition.id}/audit-trail`)).body as {
      action: string;
      actor: string;
    }[];
    expect(trail.slice(0, 3).map(({ actor, action }) => `${actor} ${action}`)).toEqual([
      "lead let a voter's ballots count again",
      "voter took back a ballot",
      "lead left a voter out of the ratings",
    ]);
  });

  it("passes a bout over with a reason, and is not shown it again", async () => {
    const panel = await addPanel();
    const voter = await join(panel);
    const [bout] = (await queueOf(voter, panel)).bouts;
    const path = `/api/booth/bouts/${bout!.token}/skip`;
    expect((await voter.post(path, { reason: "because" })).status).toBe(400);
    const { queue } = (await voter.post(path, { reason: "cannot judge" })).body as { queue: BoothQueue };
    expect(queue.done).toBe(0);
    expect(queue.bouts.map(({ token }) => token)).not.toContain(bout!.token);
    expect((await cast(voter, bout!.token)).status).toBe(409);
    expect((await voterOf(panel)).skipped).toBe(1);
  });

  it("gets another bout when one was left unanswered too long, and may still answer that", async () => {
    const panel = await addPanel();
    const voter = await join(panel);
    const { bouts } = await queueOf(voter, panel);
    await server.db.execute("UPDATE bouts SET issued_at = now() - interval '31 minutes' WHERE token = $1", [
      bouts[0]!.token,
    ]);
    expect((await queueOf(voter, panel)).bouts.map(({ token }) => token)).not.toContain(bouts[0]!.token);
    expect((await cast(voter, bouts[0]!.token)).status).toBe(201);
  });

  it("is told of when the lead votes, and is never shown an entry that the lead keeps back", async () => {
    const panel = await addPanel();
    expect((await lead.get(`/api/booth/${tokenOf(panel)}`)).body).toMatchObject({ isLead: true, known: false });
    await lead.post(`/api/booth/${tokenOf(panel)}/voters`, {});
    expect((await voterOf(panel)).isLead).toBe(true);
    expect((await queueOf(lead, panel)).bouts).toHaveLength(2);
    const entries = await server.db.select(z.object({ id: z.uuid() }), "SELECT id FROM entries");
    for (const { id } of entries.slice(1)) await lead.put(`/api/entries/${id}/left-out`, { why: "names its maker" });
    const other = await addPanel();
    expect((await queueOf(await join(other), other)).bouts).toEqual([]);
    // Bouts that are issued already are given back, as soon as that is known.
    await expect.poll(async () => (await queueOf(lead, panel)).bouts, { timeout: 5000 }).toEqual([]);
    for (const { id } of entries.slice(1)) await lead.delete(`/api/entries/${id}/left-out`);
  });
});

describe("the voting report", () => {
  it("says who votes how, with evidence, and what is thin, disputed and never voted on", async () => {
    const report = await server.services.votingReport.getReport(edition.id);
    expect(report.ballots).toBe(await countBallots());
    expect(report.thinPairs).toHaveLength(3);
    expect(report.skips).toEqual([{ reason: "cannot judge", count: 1 }]);
    expect(report.hours.reduce((sum, { ballots }) => sum + ballots, 0)).toBe(report.ballotsLastHour);
    for (const { ballots, leftShare } of report.voters) expect(leftShare?.of ?? 0).toBeLessThanOrEqual(ballots);
    expect((await new Client(server.origin).get(`/api/editions/${edition.id}/voting-report`)).status).toBe(401);
  });
});
