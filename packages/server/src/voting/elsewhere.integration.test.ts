import { request } from "node:https";
import { readFileSync } from "node:fs";
import { type Browser, chromium } from "@playwright/test";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { findFreePort, type Proxy, startProxy } from "../../test-support/proxy.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let proxy: Proxy;
let browser: Browser;
let publicUrl: string;

beforeAll(async () => {
  const port = await findFreePort();
  publicUrl = `https://tourney.example:${port}`;
  server = await startTestServer({ withInterface: true, publicUrl });
  const [app, exhibits] = [server.origin, server.exhibitsAt].map((url) => Number(new URL(url).port));
  proxy = await startProxy({ public: port, app: app!, exhibits: exhibits! });
  browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: [
      "--disable-gpu",
      "--disable-background-networking",
      "--host-resolver-rules=MAP *.example 127.0.0.1",
      `--ignore-certificate-errors-spki-list=${proxy.fingerprint}`,
      ...(process.getuid?.() === 0 ? ["--no-sandbox"] : []),
    ],
  });
}, 120_000);
afterAll(async () => {
  await browser.close();
  await proxy.stop();
  await server.close();
});

/** A request by TLS to a name of ours, whose certificate is checked. */
function ask(
  path: string,
  { host = "tourney.example", ...more }: { host?: string; headers?: object; body?: object } = {},
) {
  const { port } = new URL(publicUrl);
  return new Promise<{ status: number; headers: NodeJS.Dict<string | string[]>; text: string }>((resolve, reject) => {
    const body = more.body === undefined ? null : JSON.stringify(more.body);
    const asked = request(
      {
        host: "127.0.0.1",
        port,
        servername: host,
        ca: readFileSync(proxy.certificate),
        path,
        method: body === null ? "GET" : "POST",
        headers: { Host: `${host}:${port}`, "Content-Type": "application/json", ...more.headers },
      },
      (response) => {
        let text = "";
        response.on("data", (chunk: Buffer) => (text += chunk.toString()));
        response.on("end", () => resolve({ status: response.statusCode!, headers: response.headers, text }));
      },
    );
    asked.on("error", reject);
    asked.end(body ?? undefined);
  });
}

describe("Tourney behind a proxy", () => {
  it("is signed in to, shows an output and takes ballots, all by TLS and by names of its own", async () => {
    const { edition } = await server.services.suites.importSuite(suiteYaml("locks"));
    await makeEntries(server, edition, ["gorse", "heath"]);
    const panel = await server.services.panels.add({ editionId: edition.id, title: "Away", quota: 1, message: "" });
    expect(panel.url).toMatch(`${publicUrl}/vote/`);

    const lead = await browser.newPage();
    await lead.goto(await server.services.auth.createSignInLink());
    await lead.getByRole("link", { name: /^Wall/ }).waitFor();
    const [session] = (await lead.context().cookies()).filter(({ name }) => name === "tourney");
    expect(session).toMatchObject({ secure: true, httpOnly: true, domain: "tourney.example" });

    const voter = await (await browser.newContext()).newPage();
    const loaded: string[] = [];
    voter.on("request", (one) => void loaded.push(one.url()));
    await voter.goto(panel.url);
    await voter.getByRole("button", { name: "Begin" }).click();
    await voter.getByRole("button", { name: "Start voting" }).click();
    for (const side of ["Left", "Right"])
      await voter.frameLocator(`iframe[title="${side} page"]`).getByText("A page for locks").waitFor();
    expect(loaded.filter((url) => !url.startsWith("https://"))).toEqual([]);
    const stages = loaded.filter((url) => url.includes("/stage/")).map((url) => new URL(url).hostname);
    expect(new Set(stages).size).toBe(2);
    for (const host of stages) expect(host).toMatch(/^stage-[0-9a-f]{20}\.stages\.tourney\.example$/);
    await expect.poll(() => voter.getByText("Getting both ready …").count(), { timeout: 20_000 }).toBe(0);
    await voter.keyboard.press("2");
    await voter.keyboard.press("Enter");
    await expect
      .poll(async () => (await server.services.panels.list(edition.id)).map(({ ballots }) => ballots), {
        timeout: 10_000,
      })
      .toEqual([1]);
  }, 120_000);

  it("answers at its own names, tells browsers to come by TLS, and keeps outputs and app apart", async () => {
    const home = await ask("/");
    expect(home.status).toBe(200);
    expect(home.headers["strict-transport-security"]).toContain("max-age=15552000");
    expect(home.headers["content-security-policy"]).toContain(`https://*.stages.tourney.example`);
    expect((await ask("/", { headers: { Host: "elsewhere.example" } })).status).toBe(421);
    expect((await ask("/api/session", { host: "live.stages.tourney.example" })).status).toBe(404);
  });

  it("keeps a sign-in link when the proxy does not say that it speaks TLS", async () => {
    const token = (await server.services.auth.createSignInLink()).split("/").at(-1);
    const plain = await fetch(`${server.origin}/api/session`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ token }),
    });
    expect(plain.status).toBe(500);
    expect(await plain.text()).toContain("X-Forwarded-Proto");
    expect((await ask("/api/session", { body: { token } })).status).toBe(200);
  });
});
