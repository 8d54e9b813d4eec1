import { Course } from "@tourney/core/contract";
import { afterAll, beforeAll, expect, it } from "vitest";
import { castBallots } from "../../test-support/cast-ballots.js";
import type { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let lead: Client;
beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
});
afterAll(() => server.close());

/** It may be a few seconds behind what others have changed. */
const expectCourse = (course: object) => expect.poll(getCourse, { timeout: 10_000 }).toMatchObject(course);
const getCourse = async () => Course.parse((await lead.get("/api/course")).body);

it("says how far the cells have come and what is next, after each change of one", async () => {
  await expectCourse({ edition: null, next: "suite" });
  const { edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three"));
  // The first count starts the process that counts: what takes long rests long.
  await server.services.standings.getStandings(edition.id);
  await expectCourse({ edition: { id: edition.id }, entrants: 0, next: "entrants" });
  await makeEntries(server, edition, ["gorse", "heath"]);
  const all = { total: 6, answered: 6, failed: 0, open: 0, costUsd: 0 };
  await expectCourse({ entrants: 2, cells: all, needLook: 0, next: "voting" });

  const change = (what: string, place: number) =>
    server.db.execute(
      `UPDATE generations SET ${what} WHERE id = (SELECT id FROM generations ORDER BY id OFFSET $1 LIMIT 1)`,
      [place],
    );
  await change("cost_usd = 0.25", 0);
  await change("state = 'running', answer = NULL", 1);
  await expectCourse({ cells: { ...all, open: 1, costUsd: 0.25 }, needLook: 0, next: "runs" });
  await change("state = 'cancelled'", 1);
  const cancelled = { ...all, total: 5, answered: 5, costUsd: 0.25 };
  await expectCourse({ cells: cancelled, needLook: 0, next: "voting" });
  await server.db.execute(
    "UPDATE entries SET verdict = 'refusal' WHERE generation_id = (SELECT id FROM generations ORDER BY id LIMIT 1)",
  );
  await expectCourse({ cells: cancelled, needLook: 1, next: "voting" });
});

it("soon has a ballot that was cast", async () => {
  const { edition } = await getCourse();
  const panel = await server.services.panels.add({ editionId: edition!.id, title: "Friends", quota: 9, message: "" });
  await castBallots(server, { token: panel.url.split("/").at(-1)!, seed: 11, ballots: 1 });
  await expectCourse({ ballots: 1, voters: 1 });
});
