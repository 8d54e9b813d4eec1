import { API, type TokenScope } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { suiteYaml } from "../../test-support/scenario.js";
import type { Client } from "../../test-support/client.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let lead: Client;

beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
});
afterAll(() => server.close());

const Made = API.addToken.response;
async function makeToken(...scopes: TokenScope[]) {
  const { status, body } = await lead.post("/api/tokens", { name: `for ${scopes.join()}`, scopes });
  expect(status).toBe(201);
  return Made.parse(body);
}

/** Calls as a script does. */
async function call(token: string, path: string, { method = "GET", body }: { method?: string; body?: unknown } = {}) {
  const response = await fetch(`${server.origin}${path}`, {
    method,
    headers: { Authorization: `Bearer ${token}`, "Content-Type": "application/json" },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  return { status: response.status, text: await response.text(), cookies: response.headers.getSetCookie() };
}

const importing = { method: "POST", body: { yaml: suiteYaml("one") } };
const retiring = { method: "PUT", body: { title: "?" } };

describe("a token for scripts", () => {
  it("does what its scopes say, and nothing else", async () => {
    const { token: reads } = await makeToken("read");
    const { token: runs } = await makeToken("run");
    const { token: both } = await makeToken("run", "read");
    expect((await call(reads, "/api/editions")).status).toBe(200);
    expect((await call(runs, "/api/editions")).status).toBe(403);
    const refused = await call(reads, "/api/suites/import", importing);
    expect(refused.status).toBe(403);
    expect(refused.text).toContain("It has the scopes read; this needs run.");
    expect((await call(runs, "/api/suites/import", importing)).status).toBe(201);
    expect((await call(both, "/api/suites/import", importing)).status).toBe(201);
    expect((await call(both, "/api/editions")).status).toBe(200);
    const panel = "/api/panels/00000000-0000-4000-8000-000000000000";
    expect((await call(both, panel, retiring)).status).toBe(403);
    const { token: changes } = await makeToken("change");
    expect((await call(changes, panel, retiring)).status).not.toBe(403);
    expect((await call(changes, "/api/editions")).status).toBe(403);
  });

  it("signs nobody in, and makes, lists and revokes no token", async () => {
    const { token, made } = await makeToken("read", "run", "change");
    expect((await call(token, "/api/editions")).cookies).toEqual([]);
    expect((await call(token, "/api/session")).text).toContain('"signedIn":false');
    const input = { name: "another", scopes: ["read"] };
    for (const [path, options] of [
      ["/api/tokens", {}],
      ["/api/tokens", { method: "POST", body: input }],
      [`/api/tokens/${made.id}`, { method: "DELETE" }],
    ] as const) {
      const { status, text } = await call(token, path, options);
      expect([status, text]).toEqual([403, expect.stringContaining("No token may")]);
    }
  });

  it("is shown once, kept as a hash, and said to have been used", async () => {
    const { token, made } = await makeToken("read");
    expect(made.lastUsedAt).toBeNull();
    await call(token, "/api/editions");
    const { text, body } = await lead.get("/api/tokens");
    expect(text).not.toContain(token);
    const mine = API.listTokens.response.parse(body).find(({ id }) => id === made.id)!;
    expect(Date.now() - Date.parse(mine.lastUsedAt!)).toBeLessThan(60_000);
    const rows = await server.db.select(z.object({ row: z.string() }), "SELECT t::text AS row FROM api_tokens t");
    expect(rows.map(({ row }) => row).join()).not.toContain(token.slice("tourney_".length));
  });

  it("opens nothing once it is revoked, and neither does one that is none", async () => {
    const { token, made } = await makeToken("read");
    expect((await call(token, "/api/editions")).status).toBe(200);
    await lead.delete(`/api/tokens/${made.id}`);
    expect((await call(token, "/api/editions")).status).toBe(401);
    for (const wrong of ["", "tourney_", "tourney_no-such-token", "x".repeat(5000), made.id])
      expect((await call(wrong, "/api/editions")).status, wrong).toBe(401);
    // Not even where none is needed: a script is to learn of it at once.
    expect((await call("tourney_no-such-token", "/api/session")).status).toBe(401);
  });

  it("leaves other ways to authorise to the proxy that asks for them", async () => {
    const response = await fetch(`${server.origin}/api/session`, { headers: { Authorization: "Basic bWU6bWU=" } });
    expect(response.status).toBe(200);
  });

  it("is asked for nothing by operations that are for nobody in particular, or for voters", () => {
    for (const { access, scope, id } of Object.values(API)) if (access !== "lead") expect(scope, id).toBeNull();
  });
});
