import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { sendStream, startFakeEndpoint } from "../../test-support/fake-endpoint.js";
import { ANSWER, entrantInput, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let fake: Awaited<ReturnType<typeof startFakeEndpoint>>;
beforeAll(async () => {
  fake = await startFakeEndpoint((_request, response) => sendStream(response, ANSWER));
  // No disk has so much.
  server = await startTestServer({ settings: { leastRoomBytes: 1e18 } });
});
afterAll(async () => {
  await server.close();
  await fake.close();
});

describe("a disk that is nearly full", () => {
  it("lets nothing new be asked, loses nothing, and is told to the lead", async () => {
    const { edition } = await server.services.suites.importSuite(suiteYaml("one"));
    const { id: entrantId } = await server.services.entrants.add(entrantInput("gorse", fake.baseUrl));
    const { id } = await server.services.runs.start({
      editionId: edition.id,
      promptIds: edition.prompts.map((prompt) => prompt.id),
      entrantIds: [entrantId],
    });
    await server.runJobs();
    expect((await server.services.runs.getDetail(id)).counts).toMatchObject({ queued: 1, failed: 0 });
    expect(fake.requests).toHaveLength(0);
    const lead = await signIn(server);
    const { body } = await lead.get("/api/health");
    expect(body).toMatchObject({ room: { isLow: true }, recorders: 0 });
  });
});
