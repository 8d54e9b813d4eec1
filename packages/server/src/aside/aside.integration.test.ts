import { API, type BasisPart, type Edition, type PartedBasis } from "@tourney/core/contract";
import { joinBasis, splitBasis } from "@tourney/core/standings";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { castBallots } from "../../test-support/cast-ballots.js";
import { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { answerAside } from "./asides.js";
import type { AsideName } from "./messages.js";

let server: TestServer;
let edition: Edition;
let lead: Client;
let panelToken: string;
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 40, message: "" });
  panelToken = panel.url.split("/").at(-1)!;
  await castBallots(server, { token: panelToken, seed: 1, ballots: 6 });
  lead = await signIn(server);
});
afterAll(() => server.close());

const get = (name: AsideName, query = "") =>
  lead.get(API[name].path.replace(":editionId", edition.id) + query) as Promise<{ status: number; body: object }>;

/** Without when it was read. */
const timeless = (answer: object): object => ({ ...answer, countedAt: "", readAt: "" });

/** On a busy machine an answer takes long and rests: it then has what others have changed some seconds later. */
const RESTED = { timeout: 40_000, interval: 200 };

const NAMES: AsideName[] = [
  ...["getVotingReport", "getStandingsBasis", "getRatingsBySeeing", "getRatingsOverTime"],
  ...["getContests", "getStopping"],
] as AsideName[];

describe("what is answered aside", () => {
  it.each(NAMES)("is what the server itself would answer: %s", async (name) => {
    const call = {
      params: API[name].params.parse({ editionId: edition.id }),
      query: API[name].query.parse({}) as object,
    };
    const { status, body } = await get(name);
    expect(status).toBe(200);
    const { text } = await answerAside(server.services, { name, call, held: [] });
    expect(timeless(body)).toEqual(timeless(JSON.parse(text) as object));
  });

  it("soon has the ballots that were cast, and counts by what is chosen", async () => {
    const countBallots = async (kind: string) =>
      ((await get("getStandings", `?kind=${kind}`)).body as { ballots: number }).ballots;
    const before = await countBallots("game");
    await castBallots(server, { token: panelToken, seed: 2, ballots: 3 });
    await expect.poll(() => countBallots("game"), RESTED).toBeGreaterThan(before);
    expect(await countBallots("animation")).toBe(0);
  });

  it("soon has what was changed, however often it was asked", async () => {
    const countCompetitors = async () =>
      ((await get("getStandingsBasis")).body as { competitors: object[] }).competitors.length;
    const before = await countCompetitors();
    expect(await countCompetitors()).toBe(before);
    await makeEntries(server, edition, ["thrift"]);
    await expect.poll(countCompetitors, RESTED).toBe(before + 1);
  });

  it("gives the ballots of a basis in parts, whose names change with what is in them alone", async () => {
    const [path, partPath] = [API.getStandingsBasis.path, API.getBasisPart.path].map((one) =>
      one.replace(":editionId", edition.id),
    ) as [string, string];
    const readParts = async () => {
      const { parts, ...rest } = (await lead.get(path)).body as PartedBasis;
      const read = parts.map(async (part): Promise<BasisPart> => {
        const { body } = await lead.get(partPath.replace(":part", part));
        return API.getBasisPart.response.parse(body);
      });
      return { parts, basis: joinBasis(rest, await Promise.all(read)) };
    };
    const whole = await server.services.standings.getBasis(edition.id);
    const countBallots = async () => (await readParts()).basis.ballots.lean.length;
    await expect.poll(countBallots, RESTED).toBe(whole.ballots.lean.length);
    const { parts, basis } = await readParts();
    expect(basis.ballots).toEqual(
      joinBasis(
        whole,
        [...splitBasis(whole).parts].map((part) => part.list()),
      ).ballots,
    );
    expect(basis.ballots.lean.length).toBeGreaterThan(0);
    expect((await readParts()).parts).toEqual(parts);

    await castBallots(server, { token: panelToken, seed: 3, ballots: 2 });
    await expect.poll(countBallots, RESTED).toBe(basis.ballots.lean.length + 2);
    const later = await readParts();
    expect(later.parts).not.toEqual(parts);
    // Whoever has the names of before still gets what they name.
    expect(await lead.get(partPath.replace(":part", parts[0]!))).toMatchObject({ status: 200 });
    const unknown = partPath.replace(":part", "x".repeat(43));
    expect(await lead.get(unknown)).toMatchObject({ status: 404, body: { code: "NOT_FOUND" } });
    expect((await new Client(server.origin).get(partPath.replace(":part", parts[0]!))).status).toBe(401);
  });

  it("says what is wrong as the server itself does, and asks nothing of whom may not read it", async () => {
    const path = API.getVotingReport.path.replace(":editionId", crypto.randomUUID());
    const answer = await lead.get(path);
    expect(answer).toMatchObject({ status: 404, body: { code: "NOT_FOUND" } });
    expect((await new Client(server.origin).get(path)).status).toBe(401);
  });
});
