import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { byHand, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const DEMO = join(import.meta.dirname, "../../../../demo/suite.yaml");

describe("a suite", () => {
  it("is shown as a difference before it is taken, and changes nothing until then", async () => {
    const { suites } = server.services;
    const { edition } = await suites.importSuite(suiteYaml("one", "two"));
    const changed = suiteYaml("one", "three").replace("text: Build one.", "text: Build one well.");
    const preview = await suites.preview(changed);
    expect(preview).toMatchObject({
      nextNumber: 2,
      sameAs: null,
      against: 1,
      difference: { added: ["three"], removed: ["two"] },
    });
    expect(preview.difference!.changed.map(({ key, fields }) => [key, fields.map(({ field }) => field)])).toEqual([
      ["one", ["text"]],
    ]);
    expect(await suites.preview(suiteYaml("one", "two"))).toMatchObject({ sameAs: 1 });
    expect((await suites.listEditions()).map(({ id }) => id)).toEqual([edition.id]);
  });

  it("is exported as the canonical file, which gives the same edition when it is read in", async () => {
    const { suites } = server.services;
    const text = await readFile(DEMO, "utf8");
    const digest = (await suites.preview(text)).digest;
    const { edition, created } = await suites.importSuite(text, digest);
    expect([created, edition.prompts.length]).toEqual([true, 14]);
    await expect(suites.importSuite(text.replace("gallery", "museum"), digest)).rejects.toThrow(
      "This is not the text that was compared.",
    );
    const { yaml } = await suites.exportFile(edition.id);
    expect(yaml).toBe(text);
    expect(await suites.importSuite(yaml)).toMatchObject({
      created: false,
      edition: { id: edition.id, digest: edition.digest },
    });
  });

  it("is duplicated under another key, archived, and brought back", async () => {
    const { suites } = server.services;
    const [newest] = await suites.listEditions();
    const copy = await suites.duplicate(newest!.id, { key: "a-copy", title: "A copy" });
    expect(copy.edition).toMatchObject({ suiteKey: "a-copy", suiteTitle: "A copy", number: 1 });
    await expect(suites.duplicate(newest!.id, { key: "a-copy", title: "B" })).rejects.toThrow("already");
    expect((await suites.setArchived("a-copy", true)).at(-1)).toMatchObject({ suiteKey: "a-copy", archived: true });
    expect((await suites.setArchived("a-copy", false)).every(({ archived }) => !archived)).toBe(true);
    await expect(suites.setArchived("gone", true)).rejects.toThrow('no suite "gone"');
  });

  it("has a draft that is kept right or wrong, and goes when it is frozen", async () => {
    const { suites } = server.services;
    expect((await suites.getDraft("a-suite")).yaml).toContain("key: a-suite");
    await suites.saveDraft("a-suite", "not: [right");
    expect(await suites.getDraft("a-suite")).toMatchObject({ yaml: "not: [right", basedOn: 1 });
    await suites.importSuite(suiteYaml("one", "four"));
    expect((await suites.getDraft("a-suite")).basedOn).toBe(2);
  });
});

describe("a file of answers", () => {
  it("is uploaded as it is; each answer is taken or told why not", async () => {
    const { edition } = await server.services.suites.importSuite(suiteYaml("one").replace("A suite", "Uploads"));
    await server.services.entrants.add(byHand("heath"));
    const lines = [
      '{"prompt": "one", "entrant": "heath", "text": "<!doctype html><p>One</p>"}',
      '{"prompt": "gone", "entrant": "heath", "text": "x"}',
      "{",
    ].join("\n");
    const link = await server.services.auth.createSignInLink();
    const signedIn = await fetch(`${server.origin}/api/session`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ token: link.split("/").at(-1) }),
    });
    const cookie = signedIn.headers.getSetCookie()[0]!.split(";")[0]!;
    const upload = (headers: Record<string, string>) =>
      fetch(`${server.origin}/api/editions/${edition.id}/answers/set.jsonl`, { method: "PUT", body: lines, headers });
    expect((await upload({})).status).toBe(401);
    const response = await upload({ Cookie: cookie, "Content-Type": "application/octet-stream" });
    expect(response.status).toBe(201);
    expect(await response.json()).toMatchObject({
      taken: [{ source: "set.jsonl, line 1", verdict: "ok", created: true }],
      refused: [
        { source: "set.jsonl, line 3" },
        { source: "set.jsonl, line 2", why: expect.stringContaining('no prompt "gone"') as unknown },
      ],
    });
  });
});
