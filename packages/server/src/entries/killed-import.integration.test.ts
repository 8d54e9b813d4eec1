import { setTimeout as sleep } from "node:timers/promises";
import type { Edition } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { ANSWER, byHand, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let edition: Edition;
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two")));
  await server.services.entrants.add(byHand("gorse"));
});
afterAll(() => server.close());

const answerTo = (promptKey: string) => ({ promptKey, entrantKey: "gorse", take: 1, text: ANSWER });
const countEntries = async (promptKey: string) => {
  const [row] = await server.db.select(
    z.object({ n: z.int() }),
    `SELECT count(*)::int AS n FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.wording_id = g.wording_id
     WHERE q.key = $1`,
    [promptKey],
  );
  return row!.n;
};

/** Takes an answer in as a process does that is killed while it takes the page out: the answer is stored, and nothing more happens. */
async function killWithin(promptKey: string): Promise<void> {
  const { blobs } = server.services;
  const { put } = blobs;
  const reached = new Promise<void>((resolve) => {
    blobs.put = () => {
      resolve();
      return new Promise(() => undefined);
    };
  });
  void server.services.entries.addHandAnswer(edition.id, answerTo(promptKey));
  await Promise.race([reached, sleep(5000)]);
  blobs.put = put;
}

describe("an import that is killed", () => {
  it("is finished by the queue, and the same import again finds all there", async () => {
    await killWithin("one");
    expect(await countEntries("one")).toBe(0);
    await server.retryJobs();
    expect(await countEntries("one")).toBe(1);
    expect(await server.services.entries.addHandAnswer(edition.id, answerTo("one"))).toMatchObject({ created: false });
  });

  it("is healed at the next start where not even a job was left of it", async () => {
    await killWithin("two");
    await server.db.execute("DELETE FROM graphile_worker._private_jobs");
    await server.retryJobs();
    expect(await countEntries("two")).toBe(0);
    await server.services.extractDeps.entries.takeUpAnswers();
    await server.runJobs();
    expect(await countEntries("two")).toBe(1);
  });
});
