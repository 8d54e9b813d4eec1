import { pageInStage } from "@tourney/stage";
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { byHand, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let entryId: string;
beforeAll(async () => {
  server = await startTestServer();
  const { edition } = await server.services.suites.importSuite(suiteYaml("locks"));
  await server.services.entrants.add(byHand("gorse"));
  const page = `<!doctype html><html><body><script src="https://unpkg.com/knots@2/knots.js" integrity="sha384-x"></script><script src="https://elsewhere.example/a.js"></script></body></html>`;
  const text = `Here.\n\n\`\`\`html\n${page}\n\`\`\`\n`;
  ({ entryId } = await server.services.entries.addHandAnswer(edition.id, {
    promptKey: "locks",
    entrantKey: "gorse",
    take: 1,
    text,
  }));
  const folder = join(server.shelfDir, "knots@2", "node_modules", "knots");
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, "package.json"), JSON.stringify({ name: "knots", version: "2.0.1", main: "knots.js" }));
  writeFileSync(join(folder, "knots.js"), 'import("https://cdn.jsdelivr.net/npm/knots@2/more.js")');
});
afterAll(() => server.close());

describe("the shelf on the exhibit origin", () => {
  it("gives a live page the libraries that its recording got, and reaches no other host", async () => {
    const { liveUrl } = await server.services.entries.getDetail(entryId);
    const page = await fetch(liveUrl!);
    const html = pageInStage(await page.text());
    const address = `${server.exhibitOrigin}/shelf/unpkg.com/knots@2/knots.js`;
    expect(html).toContain(`<script src="${address}"`);
    expect(html).not.toContain("integrity=");
    expect(html).toContain("https://elsewhere.example/a.js");
    expect(page.headers.get("content-security-policy")).toMatch(/script-src 'self'[^;]*;/);
    const script = await fetch(address);
    expect(script.headers.get("content-type")).toContain("javascript");
    expect(await script.text()).toBe(`import("${server.exhibitOrigin}/shelf/cdn.jsdelivr.net/npm/knots@2/more.js")`);
  });

  it("has nothing but what is on it", async () => {
    for (const path of ["unpkg.com/sails", "elsewhere.example/a.js", "unpkg.com/knots@2/..%2f..%2fpackage.json"])
      expect((await fetch(`${server.exhibitOrigin}/shelf/${path}`)).status).toBe(404);
  });
});
