import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, expect, it } from "vitest";
import { Client } from "../../test-support/client.js";
import { byHand, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let lead: Client;
let editionId: string;

beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
  editionId = (await server.services.suites.importSuite(suiteYaml("one"))).edition.id;
});
afterAll(() => server.close());

/** A page's line: each event that comes, with its name, data and mark. */
async function openLine(query = "") {
  const abort = new AbortController();
  const response = await fetch(`${server.origin}/api/events${query}`, { headers: lead.headers, signal: abort.signal });
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let received = "";
  const next = async (): Promise<{ event: string; data: unknown; mark: string | undefined }> => {
    for (;;) {
      const end = received.indexOf("\n\n");
      if (end === -1) {
        received += (await reader.read()).value ?? "";
        continue;
      }
      const lines = Object.fromEntries(
        received
          .slice(0, end)
          .split("\n")
          .map((line) => line.split(/: (.*)/s)),
      ) as Record<string, string>;
      received = received.slice(end + 2);
      if (lines["event"] !== undefined)
        return { event: lines["event"], data: JSON.parse(lines["data"]!) as unknown, mark: lines["id"] };
    }
  };
  let coming = next();
  return {
    /** The events until none has come for a second. */
    settle: async () => {
      const events: Awaited<ReturnType<typeof next>>[] = [];
      for (;;) {
        const event = await Promise.race([coming, sleep(1000)]);
        if (event === undefined) return events;
        events.push(event);
        coming = next();
      }
    },
    close: () => {
      coming.catch(() => undefined);
      abort.abort();
    },
  };
}

/** What a page is told that opens its line again. */
async function tellSince(mark: string) {
  const page = await openLine(`?since=${mark}`);
  const [first] = await page.settle();
  page.close();
  return first!;
}

it("tells a page what has changed, and after a break only what it missed", async () => {
  const page = await openLine();
  expect((await page.settle())[0]).toMatchObject({ event: "changed", data: ["cells", "ballots"] });
  expect((await lead.post("/api/entrants", byHand("told"))).status).toBe(201);
  const told = await page.settle();
  expect(told.length).toBeGreaterThan(0);
  for (const event of told) expect(event).toMatchObject({ event: "changed", data: ["cells"] });
  page.close();

  const mark = told.at(-1)!.mark!;
  expect(await tellSince(mark)).toEqual({ event: "changed", data: [], mark });
  const panel = await server.services.panels.add({ editionId, title: "Friends", quota: 5, message: "" });
  const voter = new Client(server.origin);
  await voter.post(`/api/booth/${panel.url.split("/").at(-1)!}/voters`, { name: "Una" });
  await expect.poll(async () => (await tellSince(mark)).data, { timeout: 10_000 }).toEqual(["cells", "ballots"]);
});

it("is for the lead alone, and refuses what it cannot watch", async () => {
  expect((await fetch(`${server.origin}/api/events`)).status).toBe(401);
  expect((await lead.get("/api/events?run=nonsense")).status).toBe(400);
  expect((await lead.get(`/api/events?${Array.from({ length: 21 }, () => `run=${editionId}`).join("&")}`)).status).toBe(
    400,
  );
});
