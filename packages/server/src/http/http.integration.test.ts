import { Problem } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import * as z from "zod";
import { Client } from "../../test-support/client.js";
import { byHand, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let lead: Client;
beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
});
afterAll(() => server.close());

describe("signing in", () => {
  it("works once with a link, and never again", async () => {
    const link = await server.services.auth.createSignInLink();
    const token = link.split("/").at(-1);
    const [first, second] = [new Client(server.origin), new Client(server.origin)];
    expect((await first.post("/api/session", { token })).body).toMatchObject({ signedIn: true });
    expect((await first.get("/api/entrants")).status).toBe(200);
    const again = await second.post("/api/session", { token });
    expect(again).toMatchObject({
      status: 403,
      body: { code: "NOT_ALLOWED", remedy: expect.stringContaining("./tourney sign-in") as unknown },
    });
    expect((await second.get("/api/entrants")).status).toBe(401);
  });

  it("lasts longer when it is used, which is written once an hour", async () => {
    const Session = z.object({ sid: z.string(), expire: z.date() });
    const listSessions = () => server.db.select(Session, "SELECT sid, expire FROM sessions ORDER BY sid");
    const known = new Set((await listSessions()).map(({ sid }) => sid));
    const own = await signIn(server);
    const { sid } = (await listSessions()).find((one) => !known.has(one.sid))!;
    const readExpiry = async () => (await listSessions()).find((one) => one.sid === sid)!.expire.getTime();
    const age = () => server.db.execute("UPDATE sessions SET expire = now() + interval '2 days' WHERE sid = $1", [sid]);

    await age();
    const aged = await readExpiry();
    expect((await own.get("/api/entrants")).status).toBe(200);
    const written = await readExpiry();
    expect(written).toBeGreaterThan(aged + 27 * 86_400_000);
    await age();
    const agedAgain = await readExpiry();
    expect((await own.get("/api/entrants")).status).toBe(200);
    expect(await readExpiry()).toBe(agedAgain);
    // Only the clock is made up: what the server waits for goes on as ever.
    vi.useFakeTimers({ now: Date.now() + 3_600_001, toFake: ["Date"] });
    try {
      expect((await own.get("/api/entrants")).status).toBe(200);
      expect(await readExpiry()).toBeGreaterThan(written);
    } finally {
      vi.useRealTimers();
    }
  });

  it("refuses a changing request from another origin", async () => {
    const response = await fetch(`${server.origin}/api/session`, {
      method: "DELETE",
      headers: { Origin: "http://elsewhere.example" },
    });
    expect(response.status).toBe(403);
  });
});

describe("problems", () => {
  it("say what, why and what to do, under the id that the log has", async () => {
    const { status, body, headers } = await lead.get("/api/runs/00000000-0000-4000-8000-000000000000");
    const problem = Problem.parse(body);
    expect(status).toBe(404);
    expect(headers.get("content-type")).toContain("application/problem+json");
    expect(problem.requestId).toBe(headers.get("x-request-id"));
    expect(problem.remedy).not.toBe("");
  });

  it.each([
    ["an unknown operation", "GET", "/api/nothing", undefined, 404],
    ["half a JSON body", "POST", "/api/panels", '{"title":', 400],
    ["a body that does not match", "POST", "/api/panels", { title: "" }, 400],
    ["an id that is none", "GET", "/api/entries/12", undefined, 400],
    ["a body that is too large", "POST", "/api/suites/import", { yaml: "x".repeat(11_000_000) }, 413],
  ])("answer %s", async (_what, method, path, body, status) => {
    const response = await lead.request(method, path, body);
    expect(response.status).toBe(status);
    expect(Problem.safeParse(response.body).success).toBe(true);
  });

  it("never let an answer be served as a page of the app's own origin", async () => {
    const { headers } = await lead.get("/api/session");
    expect(headers.get("content-security-policy")).toContain(`frame-src ${server.exhibitOrigin}`);
    expect(headers.get("content-security-policy")).not.toContain("unsafe-eval");
  });
});

describe("the OpenAPI document", () => {
  it("describes every operation with its schemas", async () => {
    const { body } = await lead.get("/api/openapi.json");
    const { openapi, paths } = body as {
      openapi: string;
      paths: Record<string, Record<string, { operationId: string }>>;
    };
    expect(openapi).toBe("3.1.0");
    expect(paths["/api/booth/bouts/{boutToken}/ballot"]!["post"]!.operationId).toBe("castBallot");
    expect(JSON.stringify(body)).toContain("#/components/schemas/Standings");
  });
});

describe("suites", () => {
  it("are frozen once for one content, whatever the file's order, and numbered on", async () => {
    const yaml = suiteYaml("one", "two");
    const first = await lead.post("/api/suites/import", { yaml });
    const same = await lead.post("/api/suites/import", {
      yaml: `# a comment\n${yaml.replace("key: a-suite\ntitle: A suite", "title: A suite\nkey: a-suite")}`,
    });
    const next = await lead.post("/api/suites/import", { yaml: suiteYaml("one", "two", "three") });
    expect(first.body).toMatchObject({ created: true, edition: { number: 1 } });
    expect(same.body).toMatchObject({ created: false, edition: { number: 1 } });
    expect(next.body).toMatchObject({ created: true, edition: { number: 2 } });
  });

  it.each([
    ["is no YAML", "format: [", "INVALID_FILE", /not valid YAML/],
    [
      "has a wrong kind",
      suiteYaml("one").replace("kind: game", "kind: poem"),
      "INVALID_INPUT",
      /line 5, prompts\.0\.kind/,
    ],
    [
      "repeats a key",
      suiteYaml("one", "one"),
      "INVALID_INPUT",
      /line 6, prompts\.1\.key: "one" is already the key of prompt 1/,
    ],
    ["misses its prompts", "format: tourney-suite/1\nkey: a\ntitle: A", "INVALID_INPUT", /prompts/],
    [
      "blows itself up by aliases",
      `a: &a [x,x]\nb: &b [*a,*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b,*b]\nd: [*c,*c,*c,*c,*c]`,
      "INVALID_FILE",
      /aliases/,
    ],
  ])("say so when a file %s, and change nothing", async (_what, yaml, code, detail) => {
    const before = (await lead.get("/api/editions")).body as unknown[];
    const { body } = await lead.post("/api/suites/import", { yaml });
    expect(body).toMatchObject({ code, detail: expect.stringMatching(detail) as unknown });
    expect((await lead.get("/api/editions")).body).toHaveLength(before.length);
  });
});

describe("entrants", () => {
  it("refuse a key where the name of its variable belongs, and a second entrant of one name", async () => {
    const input = {
      ...byHand("gorse"),
      endpoint: { protocol: "chat-completions", baseUrl: "http://localhost:1/v1", keyVariable: "sk-secret" },
    };
    const refused = await lead.post("/api/entrants", input);
    expect(refused).toMatchObject({ status: 400, body: { issues: [{ path: "endpoint.keyVariable" }] } });
    expect((await lead.post("/api/entrants", byHand("gorse"))).status).toBe(201);
    expect(await lead.post("/api/entrants", { ...byHand("gorse"), key: "other" })).toMatchObject({
      status: 409,
      body: { code: "CONFLICT" },
    });
  });

  it("of a file are entered once; a change is taken where nothing was answered yet", async () => {
    const yaml = (temperature: number) =>
      `format: tourney-entrants/1\nentrants:\n  - { key: heath, name: Heath, model: m, endpoint: { protocol: by-hand }, settings: { temperature: ${temperature} } }`;
    expect((await lead.post("/api/entrants/import", { yaml: yaml(0.5) })).body).toMatchObject({
      created: 1,
      unchanged: 0,
    });
    expect((await lead.post("/api/entrants/import", { yaml: yaml(0.5) })).body).toMatchObject({
      created: 0,
      unchanged: 1,
    });
    expect((await lead.post("/api/entrants/import", { yaml: yaml(0.9) })).body).toMatchObject({
      changed: 1,
      entrants: [{ version: 1, settings: { temperature: 0.9 } }],
    });
  });
});
