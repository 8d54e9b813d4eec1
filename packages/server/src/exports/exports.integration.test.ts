import { BALLOT_COLUMNS, BallotTable, rateTable } from "@tourney/core/ballot-table";
import { type Edition, EVERYTHING } from "@tourney/core/contract";
import { EXPORT_COLUMNS, type ExportedBallot } from "@tourney/core/exports";
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
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge", "thrift"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "+Friends", quota: 18, message: "" });
  const token = panel.url.split("/").at(-1)!;
  for (const seed of [1, 2, 3, 4]) await castBallots(server, { token, seed, ballots: 14, note: "=1+1" });
  lead = await signIn(server);
});
afterAll(() => server.close());

const path = (file: string) => `/api/editions/${edition.id}/exports/${file}`;
const readLines = async (file: string): Promise<ExportedBallot[]> =>
  (await lead.get(path(file))).text
    .split("\n")
    .filter((line) => line !== "")
    .map((line) => JSON.parse(line) as ExportedBallot);
const standings = () => server.services.standings.getStandings(edition.id);

/** Rates exported ballots as `./tourney rate` does. */
function rate(ballots: readonly ExportedBallot[]) {
  const table = new BallotTable(BALLOT_COLUMNS);
  ballots.forEach((ballot, index) =>
    table.add(
      BALLOT_COLUMNS.map((column) => String(ballot[column])),
      index + 1,
    ),
  );
  return rateTable(table);
}

describe("ballots that leave Tourney", () => {
  it("come to the same standings, to the last digit that is shown, and beyond", async () => {
    const rated = rate(await readLines("ballots.jsonl"));
    const shown = await standings();
    expect(rated.ballots).toBe(shown.ballots);
    expect(rated.clusters).toEqual({ voters: shown.voters, prompts: shown.prompts });
    expect(rated.standings.map(({ entrant }) => entrant)).toEqual(shown.rows.map(({ entrant }) => entrant.key));
    rated.standings.forEach(({ rating, halfWidth, rankRange, worksShare }, index) => {
      const row = shown.rows[index]!;
      expect([rating!.toFixed(6), halfWidth!.toFixed(6)]).toEqual([row.rating!.toFixed(6), row.halfWidth!.toFixed(6)]);
      expect([rankRange, worksShare]).toEqual([row.rankRange, row.worksShare]);
    });
  });

  it("come to the standings of whatever is chosen to count", async () => {
    const counts = { ...EVERYTHING, prompt: ["one", "three"], broken: "lose" as const };
    const shown = await server.services.standings.getStandings(edition.id, counts);
    const query = "prompt=one&prompt=three&broken=lose";
    const [counted, all] = [await readLines(`ballots.jsonl?${query}`), await readLines(`ballots.jsonl?${query}&all=1`)];
    for (const rated of [rate(counted), rate(all)])
      expect(rated.standings.map(({ entrant, rating }) => [entrant, rating!.toFixed(6)])).toEqual(
        shown.rows.map(({ entrant, rating }) => [entrant.key, rating!.toFixed(6)]),
      );
    expect(new Set(counted.map(({ prompt }) => prompt))).toEqual(new Set(["one", "three"]));
    expect(all.filter(({ not_counted }) => not_counted === "these standings leave it out").length).toBeGreaterThan(0);
  });

  it("say who voted by a pseudonym, the same each time, unless names are asked for", async () => {
    const [first, again, named] = [
      await readLines("ballots.jsonl"),
      await readLines("ballots.jsonl"),
      await readLines("ballots.jsonl?names=1"),
    ];
    expect(again).toEqual(first);
    expect(new Set(first.map(({ voter }) => voter)).size).toBe(4);
    expect(JSON.stringify(first)).not.toContain("Voter 1");
    expect(new Set(named.map(({ voter_name }) => voter_name))).toEqual(
      new Set(["Voter 1", "Voter 2", "Voter 3", "Voter 4"]),
    );
    expect(named.map(({ voter }) => voter)).toEqual(first.map(({ voter }) => voter));
  });

  it("leave out what does not count, or say why it does not; both come to the same", async () => {
    const [counted, all] = [await readLines("ballots.jsonl"), await readLines("ballots.jsonl?all=1")];
    const takenBack = all.filter(({ not_counted }) => not_counted === "taken back by the voter");
    expect(takenBack.length).toBeGreaterThan(0);
    expect(counted).toEqual(all.filter(({ not_counted }) => not_counted === ""));
    await server.services.ballotList.void(counted[0]!.ballot, "a slip");
    const [voided] = (await readLines("ballots.jsonl?all=1")).filter(({ ballot }) => ballot === counted[0]!.ballot);
    expect(voided!.not_counted).toBe("voided: a slip");
    expect(rate(await readLines("ballots.jsonl?all=1")).ballots).toBe((await standings()).ballots);
    await server.services.ballotList.restore(counted[0]!.ballot);
  });

  it("are a table that no spreadsheet runs, with the reason why each pair was asked", async () => {
    const { text, headers } = await lead.get(path("ballots.csv"));
    const [head, first] = text.split("\n");
    expect(head).toBe(EXPORT_COLUMNS.join(","));
    expect(first).toContain(",'+Friends,");
    expect(first).toContain(",'=1+1,");
    expect(headers.get("content-disposition")).toContain("a-suite-edition-1-ballots.csv");
    expect((await readLines("ballots.jsonl")).every(({ asked_because }) => asked_because !== "")).toBe(true);
  });

  it("go to nobody but the lead, and in no other form than there is", async () => {
    const stranger = new Client(server.origin);
    for (const file of ["ballots.csv", "ballots.jsonl", "standings.csv", "standings.json"])
      expect((await stranger.get(path(file))).status).toBe(401);
    for (const file of ["ballots.xml", "standings.jsonl", "ballots.csv?kind=poem", "ballots.csv?names=yes"])
      expect((await lead.get(path(file))).status).toBe(400);
    const nowhere = path("ballots.csv").replace(edition.id, "00000000-0000-4000-8000-000000000000");
    expect((await lead.get(nowhere)).status).toBe(404);
  });
});

describe("standings that leave Tourney", () => {
  it("have a row for each entrant, best first, unrounded", async () => {
    const { rows } = await standings();
    const lines = (await lead.get(path("standings.csv"))).text.trim().split("\n").slice(1);
    expect(lines.map((line) => line.split(",")[2])).toEqual(rows.map(({ entrant }) => entrant.key));
    expect(lines.map((line) => line.split(",")[6])).toEqual(rows.map(({ rating }) => String(rating)));
    const { body } = await lead.get(path("standings.json"));
    expect((body as { rows: unknown[] }).rows).toHaveLength(rows.length);
  });
});
