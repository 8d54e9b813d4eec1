import { createHash } from "node:crypto";
import { buffer } from "node:stream/consumers";
import { BundledEntry, BundleManifest, type Edition } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { listZip, openZip, readEntry } from "../zip.js";
import { castBallots } from "../../test-support/cast-ballots.js";
import { ANSWER, makeEntries, PAGE, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let edition: Edition;

beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two")));
  await makeEntries(server, edition, ["gorse", "heath"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 9, message: "" });
  await castBallots(server, { token: panel.url.split("/").at(-1)!, seed: 1, ballots: 4 });
});
afterAll(() => server.close());

/** The files of a bundle by their paths, in order. */
async function readBundle(content: "entries" | "all", withNames = false): Promise<Map<string, Buffer>> {
  const { stream } = await server.services.bundles.make(edition.id, { content, withNames });
  const zip = await openZip(await buffer(stream));
  const files = new Map<string, Buffer>();
  for await (const entry of listZip(zip)) files.set(entry.fileName, await readEntry(zip, entry));
  return files;
}

const manifestOf = (files: Map<string, Buffer>) =>
  BundleManifest.parse(JSON.parse(files.get("manifest.json")!.toString()));

describe("a bundle", () => {
  it("holds answers and artifacts by prompt and entrant, and ends with a manifest that every byte answers to", async () => {
    const files = await readBundle("all");
    expect([...files.keys()].at(-1)).toBe("manifest.json");
    const manifest = manifestOf(files);
    expect(manifest.suite).toMatchObject({ key: "a-suite", edition: 1, digest: edition.digest });
    expect(manifest.parts.map(({ path }) => path)).toEqual([...files.keys()].slice(0, -1));
    for (const { path, bytes, sha256 } of manifest.parts) {
      expect(files.get(path)!.length, path).toBe(bytes);
      expect(createHash("sha256").update(files.get(path)!).digest("hex"), path).toBe(sha256);
    }
    const folder = "entries/one/gorse/take-1";
    const look = (text: string) => text.replace("A page", "A page for one, look 0");
    expect(files.get(`${folder}/answer.md`)!.toString()).toBe(look(ANSWER));
    const entry = BundledEntry.parse(JSON.parse(files.get(`${folder}/entry.json`)!.toString()));
    expect(entry).toMatchObject({ prompt: "one", entrant: "gorse", take: 1, round: 0, verdict: "ok" });
    expect(files.get(`${folder}/artifact/${entry.entryPath!}`)!.toString().trim()).toBe(look(PAGE));
    expect(files.get("suite.yaml")!.toString()).toContain("key: a-suite");
    expect(files.get("ballots.jsonl")!.toString().trim().split("\n").length).toBeGreaterThan(1);
    expect(files.get("ballots.jsonl")!.toString()).not.toContain("Voter 1");
    expect((await readBundle("all", true)).get("ballots.jsonl")!.toString()).toContain("Voter 1");
  });

  it("of entries alone has no ballots", async () => {
    const paths = [...(await readBundle("entries")).keys()];
    expect(paths.every((path) => path.startsWith("entries/") || path === "manifest.json")).toBe(true);
  });

  it("keeps a path that would lead out of its folder in it, and names what is missing", async () => {
    await server.db.execute(
      `UPDATE entries SET files = jsonb_build_array(jsonb_build_object('path', '../../etc/passwd', 'sha256', repeat('a', 64), 'bytes', 3))
       WHERE id = (SELECT id FROM entries LIMIT 1)`,
    );
    const files = await readBundle("entries");
    expect([...files.keys()].some((path) => path.includes(".."))).toBe(false);
    expect(manifestOf(files).missing.map(({ path }) => path)).toEqual([
      expect.stringMatching(/\/artifact\/etc\/passwd$/),
    ]);
  });
});
