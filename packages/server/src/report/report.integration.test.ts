import { type Edition, ReportLink } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { castBallots } from "../../test-support/cast-ballots.js";
import { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let edition: Edition;
let lead: Client;

beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 18, message: "" });
  for (const seed of [1, 2, 3]) await castBallots(server, { token: panel.url.split("/").at(-1)!, seed, ballots: 8 });
  lead = await signIn(server);
});
afterAll(() => server.close());

const reportOf = (query = "") => lead.get(`/api/editions/${edition.id}/report.html${query}`);
const readLink = (url: string) => fetch(url.replace(new URL(url).origin, server.origin));

describe("a report", () => {
  it("is a file for the lead with the standings in it, of what counts", async () => {
    const { text, headers } = await reportOf();
    expect(headers.get("content-disposition")).toContain("report.html");
    expect(text).toContain("Name of gorse");
    expect(text).toContain("All ballots.");
    const { rows } = await server.services.standings.getStandings(edition.id);
    for (const { rating } of rows) expect(text).toMatch(new RegExp(`>\\s*${Math.round(rating!)} ±`));
    expect((await reportOf("?prompt=one")).text).toContain("Only ballots on one.");
    expect((await new Client(server.origin).get(`/api/editions/${edition.id}/report.html`)).status).toBe(401);
    expect((await reportOf("?kind=poem")).status).toBe(400);
  });

  it("is read by anybody who has a link, until the link is withdrawn", async () => {
    const path = `/api/editions/${edition.id}/report-links`;
    const link = ReportLink.parse((await lead.post(path, { counts: { prompt: ["two"] } })).body);
    const read = await readLink(link.url);
    expect(read.status).toBe(200);
    expect(read.headers.get("content-security-policy")).toContain("default-src 'none'");
    expect(await read.text()).toContain("Only ballots on two.");
    // It opens this page and nothing else.
    expect(read.headers.get("set-cookie")).toBeNull();

    await lead.put(`/api/report-links/${link.id}`, { withdrawn: true });
    expect((await readLink(link.url)).status).toBe(404);
    await lead.put(`/api/report-links/${link.id}`, { withdrawn: false });
    expect((await readLink(link.url)).status).toBe(200);
    expect((await readLink(link.url.slice(0, -1))).status).toBe(404);
    expect((await lead.get(path)).body).toMatchObject([{ id: link.id, withdrawnAt: null }]);
  });

  it("names the ballots that count by a digest, which another ballot changes", async () => {
    const digestOf = async () => /Ballots as\s+counted\s+<code>([0-9a-f]{64})/.exec((await reportOf()).text)![1];
    const before = await digestOf();
    expect(await digestOf()).toBe(before);
    // Not one that its voter took back.
    const { ballots } = await server.services.ballotList.list(edition.id, { only: "all" });
    const ballot = ballots.find(({ voided }) => voided === null);
    await server.services.ballotList.void(ballot!.id, "a slip");
    expect(await digestOf()).not.toBe(before);
    await server.services.ballotList.restore(ballot!.id);
    expect(await digestOf()).toBe(before);
  });
});
