import { afterEach, describe, expect, it } from "vitest";
import { startFakeEndpoint } from "../../test-support/fake-endpoint.js";
import type { EntrantRow } from "../entrants/repository.js";
import { createEndpointFetch } from "./endpoint-fetch.js";
import { createConnectionTester } from "./test-connection.js";

type Endpoint = Awaited<ReturnType<typeof startFakeEndpoint>>;
const opened: Endpoint[] = [];
const open = async (...args: Parameters<typeof startFakeEndpoint>): Promise<Endpoint> => {
  const endpoint = await startFakeEndpoint(...args);
  opened.push(endpoint);
  return endpoint;
};
afterEach(() => Promise.all(opened.splice(0).map((endpoint) => endpoint.close())));

const entrant = (protocol: "chat-completions" | "messages", baseUrl: string): EntrantRow =>
  ({ endpoint: { protocol, baseUrl, keyVariable: "GORSE_KEY" }, model: "the-model", settings: {} }) as EntrantRow;

describe("the test of a connection", () => {
  it.each(["chat-completions", "messages"] as const)(
    "by %s follows an endpoint to no other host: the key was given for this one",
    async (protocol) => {
      const elsewhere = await open((_, response) => response.end("{}"));
      const leading = await open((request, response) => {
        response.writeHead(307, { Location: `${elsewhere.baseUrl}${request.url}` }).end();
      });
      const test = createConnectionTester({
        keyRing: { take: () => Promise.resolve({ key: "a-secret-key" }) },
        endpointFetch: createEndpointFetch("all"),
      });
      const result = await test(entrant(protocol, leading.baseUrl));
      expect(result).toMatchObject({ ok: false, models: [] });
      // Both the list of models and the question were asked, and neither went on.
      expect(leading.requests.length).toBeGreaterThanOrEqual(2);
      expect(leading.requests.some(({ headers }) => JSON.stringify(headers).includes("a-secret-key"))).toBe(true);
      expect(elsewhere.requests).toHaveLength(0);
    },
    30_000,
  );

  it("sends nothing without the key that the entrant names", async () => {
    const endpoint = await open((_, response) => response.end("{}"));
    const refused = { message: "GORSE_KEY is not set.", remedy: "Set it." };
    const test = createConnectionTester({
      keyRing: { take: () => Promise.resolve({ refused }) },
      endpointFetch: createEndpointFetch("all"),
    });
    const result = await test(entrant("messages", endpoint.baseUrl));
    expect(result.error).toMatchObject({ why: "GORSE_KEY is not set.", remedy: "Set it." });
    expect(endpoint.requests).toHaveLength(0);
  });

  it.each(["127.0.0.1", "localhost", "[::1]", "0.0.0.0", "[::ffff:127.0.0.1]"])(
    "asks nothing of %s, an address of this machine, unless its operator allows it",
    async (host) => {
      const endpoint = await open((_, response) => response.end("{}"));
      const { port } = new URL(endpoint.baseUrl);
      const keyRing = { take: () => Promise.resolve({ key: "a-secret-key" }) };
      const baseUrl = `http://${host}:${port}/v1`;
      const test = createConnectionTester({ keyRing, endpointFetch: createEndpointFetch("localhost:1") });
      const result = await test(entrant("chat-completions", baseUrl));
      expect(result.error?.why).toMatch(/of this machine/);
      expect(result.error?.remedy).toContain("TOURNEY_LOCAL_ENDPOINTS");
      expect(endpoint.requests).toHaveLength(0);
      const allowed = createConnectionTester({ keyRing, endpointFetch: createEndpointFetch(`127.0.0.1:${port}`) });
      await allowed(entrant("chat-completions", endpoint.baseUrl));
      expect(endpoint.requests.length).toBeGreaterThan(0);
    },
  );
});
