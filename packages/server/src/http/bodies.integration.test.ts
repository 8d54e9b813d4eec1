import { connect } from "node:net";
import { gzipSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Client } from "../../test-support/client.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let lead: Client;
beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
}, 60_000);
afterAll(() => server.close());

/** The status that a request gets which says that it brings a body, and brings none of it. */
function askWithoutBody(method: string, path: string, headers: Record<string, string> = {}): Promise<number> {
  const { hostname, port, host } = new URL(server.origin);
  return new Promise((resolve, reject) => {
    const socket = connect(Number(port), hostname);
    const lines = { Host: host, "Content-Type": "application/json", "Content-Length": "5000000", ...headers };
    const head = Object.entries(lines).map(([name, value]) => `${name}: ${value}`);
    socket.write(`${method} ${path} HTTP/1.1\r\n${head.join("\r\n")}\r\n\r\n`);
    socket.once("data", (answer) => {
      socket.destroy();
      resolve(Number(/^HTTP\/1\.1 (\d+)/.exec(answer.toString("latin1"))?.[1]));
    });
    socket.once("error", reject);
    socket.setTimeout(10_000, () => {
      socket.destroy();
      resolve(0);
    });
  });
}

const post = (path: string, body: Buffer, headers: Record<string, string> = {}) =>
  fetch(`${server.origin}${path}`, {
    method: "POST",
    headers: { ...lead.headers, "content-type": "application/json", ...headers },
    body: new Uint8Array(body),
  });

describe("a body", () => {
  it("of a stranger is not waited for: who asks is looked at first", async () => {
    expect(await askWithoutBody("POST", "/api/suites/import")).toBe(401);
    expect(await askWithoutBody("PUT", `/api/editions/${crypto.randomUUID()}/answers/set.zip`)).toBe(401);
  });

  it("of anybody is small, and the lead's may be larger", async () => {
    expect(await askWithoutBody("POST", `/api/booth/${"a".repeat(24)}/voters`)).toBe(413);
    const large = await post("/api/suites/import", Buffer.from(JSON.stringify({ yaml: "#".repeat(11_000_000) })));
    expect(large.status).toBe(413);
  });

  it("that is packed is refused", async () => {
    const packed = await post("/api/suites/import", gzipSync(JSON.stringify({ yaml: "key: a" })), {
      "content-encoding": "gzip",
    });
    expect(packed.status).toBe(400);
    expect(await packed.text()).toContain("packed");
  });

  it("that is long and wrong gets the error of a short one", async () => {
    for (const length of [10, 200_000]) {
      const broken = await post("/api/suites/import", Buffer.from(`{"yaml": "${"a".repeat(length)}`));
      expect([broken.status, await broken.text()]).toEqual([400, expect.stringContaining("cannot be read")]);
      const wrong = await post("/api/suites/import", Buffer.from(`{"yaml": 111, "more": "${"a".repeat(length)}"}`));
      expect([wrong.status, await wrong.text()]).toEqual([400, expect.stringContaining("yaml")]);
    }
  });
});
