import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Edition, EVERYTHING } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { castBallots } from "../../test-support/cast-ballots.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { readBallots } from "./read-ballots.js";

let server: TestServer;
let edition: Edition;
let folder: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "tourney-ballots-"));
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
});
afterAll(async () => {
  await server.close();
  await rm(folder, { recursive: true, force: true });
});

const HEAD = "voter,prompt,left,right,lean";
const standings = () => server.services.standings.getStandings(edition.id);

async function take(name: string, text: string) {
  const path = join(folder, name);
  await writeFile(path, text);
  return server.services.ballotImports.importBallots(edition.id, { path, file: await readBallots(path) });
}

describe("ballots that were voted elsewhere", () => {
  it("count as a panel of their own, each with when it was cast", async () => {
    const table = `${HEAD},at,left_works,extra\nUna,one,gorse,heath,-2,2026-03-01T10:00:00Z,false,x\nUna,two,sedge,gorse,1,,1,\nTor,one,heath,sedge,0,,,\n`;
    expect(await take("march.csv", table)).toEqual({ title: "Voted elsewhere: march.csv", ballots: 3, voters: 2 });
    const { ballots, voters, sources } = await standings();
    expect([ballots, voters]).toEqual([3, 2]);
    expect(sources).toMatchObject([
      { title: "Voted elsewhere: march.csv", ballots: 3, firstAt: "2026-03-01T10:00:00.000Z" },
    ]);
    const [line] = (await server.services.ballotList.list(edition.id, { only: "all" })).ballots.slice(-1);
    expect(JSON.stringify(line)).toContain("Una");
    await expect(take("again.csv", table)).rejects.toThrow("has been taken in already");
  });

  it("can be left out of what counts, beside those of the booth", async () => {
    const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 9, message: "" });
    await castBallots(server, { token: panel.url.split("/").at(-1)!, seed: 2, ballots: 4 });
    const all = await standings();
    const own = all.sources.find(({ title }) => title === "Friends")!;
    expect(all.ballots).toBe(own.ballots + 3);
    const counted = await server.services.standings.getStandings(edition.id, { ...EVERYTHING, panel: [own.panelId] });
    expect(counted.ballots).toBe(own.ballots);
  });

  it("come to the same standings in another Tourney that they were exported to", async () => {
    const before = await standings();
    const { chunks } = await server.services.exportService.exportBallots(edition.id, {
      ...{ format: "csv" as const, counts: EVERYTHING, withNames: false, withAll: true },
    });
    let text = "";
    for await (const chunk of chunks) text += chunk;
    const path = join(folder, "all.csv");
    await writeFile(path, text);
    const other = await startTestServer();
    try {
      const made = await other.services.suites.importSuite(suiteYaml("one", "two"));
      await makeEntries(other, made.edition, ["gorse", "heath", "sedge"]);
      await other.services.ballotImports.importBallots(made.edition.id, { path, file: await readBallots(path) });
      const after = await other.services.standings.getStandings(made.edition.id);
      const ratings = ({ rows }: typeof before) =>
        rows.map(({ entrant, rating, halfWidth }) => [entrant.key, rating!.toFixed(6), halfWidth!.toFixed(6)]);
      expect(ratings(after)).toEqual(ratings(before));
      expect([after.ballots, after.voters]).toEqual([before.ballots, before.voters]);
    } finally {
      await other.close();
    }
  });

  it("are refused as a whole where one line is wrong, each with its place, and nothing is taken in", async () => {
    const before = (await standings()).ballots;
    const bad = (lines: string) => take("bad.csv", `${HEAD}\nUna,one,gorse,sedge,1\n${lines}`);
    await expect(bad("Una,one,gorse,whin,1\n")).rejects.toThrow("line 3: whin has no entry on one");
    await expect(bad("Una,three,gorse,heath,1\n")).rejects.toThrow("line 3: there is no prompt three");
    await expect(bad("Una,one,gorse,gorse,1\n")).rejects.toThrow("line 3: gorse is paired with itself");
    await expect(bad("Una,one,gorse,heath,3\n")).rejects.toThrow(/line 3: lean /);
    await expect(bad("Una,one,gorse,sedge,0\n")).rejects.toThrow("line 3: Una has voted on this pair above");
    await expect(bad(",one,gorse,sedge,0\n")).rejects.toThrow("line 3: voter is empty");
    await expect(take("half.csv", `${HEAD}\nUna,one,"gorse`)).rejects.toThrow("is not a table");
    await expect(take("none.csv", `${HEAD}\n`)).rejects.toThrow("no ballot that counts");
    await expect(readBallots(join(folder, "nowhere.csv"))).rejects.toThrow("cannot be read");
    expect((await standings()).ballots).toBe(before);
  });

  it("may have a pair a second time with the sides exchanged, which checks the voter", async () => {
    const taken = await take("twice.csv", `${HEAD}\nIne,one,gorse,sedge,-1\nIne,one,sedge,gorse,1\n`);
    expect(taken).toMatchObject({ ballots: 2, voters: 1 });
  });
});
