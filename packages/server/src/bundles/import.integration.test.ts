import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { createHash } from "node:crypto";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buffer } from "node:stream/consumers";
import { BundleManifest, type Edition, EVERYTHING, type Standings } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ZipFile } from "yazl";
import * as z from "zod";
import { listZip, openZip, readEntry } from "../zip.js";
import { castBallots } from "../../test-support/cast-ballots.js";
import { byHand, makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let here: TestServer;
let edition: Edition;
let folder: string;
let bundlePath: string;
/** The files of the bundle, in order. */
let files: Map<string, Buffer>;

const quiet = () => undefined;

async function exportAll(server: TestServer, { withNames = false } = {}): Promise<Map<string, Buffer>> {
  const { stream } = await server.services.bundles.make(edition.id, { content: "all", withNames });
  return unzip(await buffer(stream));
}

async function unzip(bytes: Buffer): Promise<Map<string, Buffer>> {
  const zip = await openZip(bytes);
  const found = new Map<string, Buffer>();
  for await (const entry of listZip(zip)) found.set(entry.fileName, await readEntry(zip, entry));
  return found;
}

/** Zips files again, with a manifest that fits them unless it is left as it was. */
async function zipAgain(changed: Map<string, Buffer>, { withManifest = true } = {}): Promise<string> {
  const manifest = BundleManifest.parse(JSON.parse(files.get("manifest.json")!.toString()));
  const parts = [...changed].filter(([path]) => path !== "manifest.json");
  if (withManifest) {
    manifest.parts = parts.map(([path, bytes]) => ({
      ...{ path, bytes: bytes.length, sha256: createHash("sha256").update(bytes).digest("hex") },
    }));
  }
  const zip = new ZipFile();
  for (const [path, bytes] of parts) zip.addBuffer(bytes, path);
  zip.addBuffer(Buffer.from(JSON.stringify(manifest)), "manifest.json");
  zip.end();
  const path = join(folder, "changed.zip");
  await writeFile(path, await buffer(zip.outputStream));
  return path;
}

/** The bundle with one text in it exchanged for another. */
async function zipWith(path: string, from: string | RegExp, to: string): Promise<string> {
  const text = files.get(path)!.toString();
  const changed = text.replace(from, to);
  expect(changed).not.toBe(text);
  return zipAgain(new Map([...files, [path, Buffer.from(changed)]]));
}

beforeAll(async () => {
  here = await startTestServer();
  const { suites, panels, sheets, entrants, standings } = here.services;
  const first = await suites.importSuite(suiteYaml("one", "two"));
  await makeEntries(here, first.edition, ["sedge", "gorse", "heath"]);
  // The next edition keeps the wordings, and with them the answers that the first one asked for.
  ({ edition } = await suites.importSuite(suiteYaml("one", "two").replace("title: two", "title: Two")));
  const panel = await panels.add({ editionId: edition.id, title: "Friends", quota: 9, message: "" });
  const token = panel.url.split("/").at(-1)!;
  for (const seed of [1, 2, 3]) await castBallots(here, { token, seed, ballots: 5, note: 'neat, "quoted"' });
  const newcomerId = (await entrants.list()).find(({ key }) => key === "sedge")!.id;
  await panels.add({ editionId: edition.id, title: "Placing", quota: 9, message: "", newcomerId });
  const mended = await panels.add({ editionId: edition.id, title: "Mended", quota: 9, message: "", contest: "mended" });
  await castBallots(here, { token: mended.url.split("/").at(-1)!, seed: 4, ballots: 4, note: "" });
  await here.services.stopping.set(edition.id, { goal: { kind: "within", points: 40 }, mostBallots: 90, looks: 3 });
  const { ballots } = await here.services.ballotList.list(edition.id, { only: "all" });
  await here.services.ballotList.void(ballots.find(({ voided }) => voided === null)!.id, "a slip");
  const [voter] = await here.db.select(z.object({ id: z.uuid() }), "SELECT id FROM voters WHERE name = 'Voter 3'");
  await panels.leaveVoterOut(voter!.id, "voted in jest");
  const [entry] = await here.db.select(z.object({ id: z.uuid() }), "SELECT id FROM entries LIMIT 1");
  await sheets.save(entry!.id, "Una", {
    ...{ watchpoints: [], verdict: "pass", marks: 7, note: "neat", tags: [] },
    isBlind: true,
  });
  const gorse = (await entrants.list()).find(({ key }) => key === "gorse")!;
  await entrants.replace(gorse.id, { ...byHand("gorse"), model: "another" });
  await standings.getStandings(edition.id);
  folder = await mkdtemp(join(tmpdir(), "bundles-"));
  bundlePath = join(folder, "bundle.zip");
  await writeFile(
    bundlePath,
    await buffer((await here.services.bundles.make(edition.id, { content: "all", withNames: false })).stream),
  );
  files = await unzip(await readFile(bundlePath));
});
afterAll(async () => {
  await rm(folder, { recursive: true });
  await here.close();
});

/** An empty Tourney that takes in a bundle, for as long as it is looked at. */
async function importInto<T>(path: string, look: (there: TestServer) => Promise<T>): Promise<T> {
  const there = await startTestServer();
  try {
    await there.services.bundleImports.importBundle(path, quiet);
    return await look(there);
  } finally {
    await there.close();
  }
}

const ratingsOf = ({ rows, ballots, voters }: Standings) => ({ ballots, voters, rows });
const standingsAt = ({ services }: TestServer, counts = EVERYTHING) =>
  services.standings.getStandings(edition.id, counts);

describe("a bundle that is taken in", () => {
  it("gives the same wall, standings to the last digit, ballots and sheets under the same ids", async () => {
    await importInto(bundlePath, async (there) => {
      const both = async <T>(read: (server: TestServer) => Promise<T>) => {
        const [mine, others] = [await read(here), await read(there)];
        expect(others).toEqual(mine);
        return mine;
      };
      const options = { take: 1, round: 0, versions: "all" } as const;
      expect((await both(({ services }) => services.wall.getWall(edition.id, options))).cells.length).toBe(6);
      expect((await both(async (server) => ratingsOf(await standingsAt(server)))).ballots).toBeGreaterThan(0);
      const older = { ...EVERYTHING, versions: "all", broken: "lose" } as const;
      expect((await both(async (server) => ratingsOf(await standingsAt(server, older)))).ballots).toBeGreaterThan(0);
      const { pages, newcomers } = await both(({ services }) => services.contests.getResults(edition.id));
      expect([pages.length, newcomers.length]).toEqual([1, 1]);
      expect((await both(({ services }) => services.stopping.getState(edition.id))).plan).not.toBeNull();
      await both(({ services }) => services.suites.getEdition(edition.id));
      await both(({ services }) => services.entrants.list());
      const [entry] = await here.db.select(z.object({ id: z.uuid() }), "SELECT entry_id AS id FROM score_sheets");
      const sheets = await there.services.sheets.list(entry!.id);
      expect(sheets).toMatchObject([{ marks: 7, judge: expect.stringMatching(/^judge-[0-9a-f]{10}$/) as string }]);
      const text = (await there.services.entries.getDetail(entry!.id)).fileTexts[0]!.text;
      expect(text).toContain("A page for");
    });
  });

  it("is exported again as the bytes that came, but for the pseudonyms", async () => {
    const again = await importInto(bundlePath, (there) => exportAll(there));
    const withoutMoment = (bytes: Buffer) => bytes.toString().replace(/"countedAt": "[^"]+"/, "");
    const same = (path: string) =>
      !/^(ballots\.jsonl|manifest\.json|records\/(voters|score_sheets|audit_trail)\.jsonl)$/.test(path);
    expect([...again.keys()]).toEqual([...files.keys()]);
    for (const [path, bytes] of again)
      if (same(path)) expect(withoutMoment(bytes), path).toBe(withoutMoment(files.get(path)!));
  });

  it("lets nobody in by a link of where it comes from, and names nobody", async () => {
    const all = [...files.values()].map((bytes) => bytes.toString()).join("\n");
    const secrets = `SELECT token FROM panels UNION SELECT token FROM bouts UNION SELECT left_token FROM bouts UNION SELECT token_hash FROM voters`;
    const tokens = await here.db.select(z.object({ token: z.string() }), secrets);
    expect(tokens.length).toBeGreaterThan(10);
    for (const { token } of tokens) expect(all).not.toContain(token);
    expect(all).not.toMatch(/Voter \d|Una/);
    expect((await exportAll(here, { withNames: true })).get("records/voters.jsonl")!.toString()).toContain("Voter 1");
  });

  it("goes on: a voter of its new link is shown pairs, and the ballot is counted", async () => {
    await importInto(bundlePath, async (there) => {
      const before = (await standingsAt(there)).ballots;
      const [panel] = await there.services.panels.list(edition.id);
      await castBallots(there, { token: panel!.url.split("/").at(-1)!, seed: 9, ballots: 3 });
      expect((await standingsAt(there)).ballots).toBeGreaterThan(before);
    });
  });
});

describe("a bundle that cannot be taken in", () => {
  let there: TestServer;
  beforeAll(async () => {
    there = await startTestServer();
  });
  afterAll(() => there.close());

  async function refused(path: string, why: RegExp | string): Promise<void> {
    await expect(there.services.bundleImports.importBundle(path, quiet)).rejects.toThrow(why);
    for (const name of ["suites", "entrants", "ballots", "audit_trail"]) {
      const [row] = await there.db.select(z.object({ n: z.int() }), `SELECT count(*)::int AS n FROM ${name}`);
      expect(row!.n, name).toBe(0);
    }
  }

  it("is half a file, or no bundle", async () => {
    const half = join(folder, "half.zip");
    const bytes = await readFile(bundlePath);
    await writeFile(half, bytes.subarray(0, bytes.length / 2));
    await refused(half, "half of one");
    await writeFile(half, Buffer.concat([bytes.subarray(0, 5000), Buffer.alloc(3000), bytes.subarray(8000)]));
    await refused(half, /cannot be (unpacked|taken in)/);
    await writeFile(half, "no zip");
    await refused(half, "no zip file");
    await refused(join(folder, "nowhere.zip"), "ENOENT");
    const other = new ZipFile();
    other.addBuffer(Buffer.from("a"), "a.txt");
    other.end();
    await writeFile(half, await buffer(other.outputStream));
    await refused(half, "no manifest.json");
    await writeFile(
      half,
      await buffer((await here.services.bundles.make(edition.id, { content: "entries", withNames: false })).stream),
    );
    await refused(half, "answers and artifacts alone");
  });

  it("is of another digest, with a file too many or one too few", async () => {
    const text = files.get("records/ballots.jsonl")!.toString();
    const changed = new Map([
      ...files,
      ["records/ballots.jsonl", Buffer.from(text.replace(/"lean":-?\d/, '"lean":2'))],
    ]);
    await refused(
      await zipAgain(changed, { withManifest: false }),
      "records/ballots.jsonl is not what its manifest says",
    );
    const more = new Map([...files, ["extra.txt", Buffer.from("?")]]);
    await refused(await zipAgain(more, { withManifest: false }), "its manifest does not know of extra.txt");
    const fewer = new Map([...files].filter(([path]) => path !== "records/bouts.jsonl"));
    await refused(await zipAgain(fewer, { withManifest: false }), "records/bouts.jsonl is not in it");
  });

  it("is of a newer format, or has columns of a newer one", async () => {
    const manifest = files.get("manifest.json")!.toString().replace("tourney-bundle/2", "tourney-bundle/3");
    const zip = new ZipFile();
    zip.addBuffer(Buffer.from(manifest), "manifest.json");
    zip.end();
    const path = join(folder, "newer.zip");
    await writeFile(path, await buffer(zip.outputStream));
    await refused(path, 'its format is "tourney-bundle/3"');
    await refused(
      await zipWith("records/panels.jsonl", "{", '{"colour":"red",'),
      "records/panels.jsonl, line 1: it has colour",
    );
  });

  it("names what is not among its records, or is no record", async () => {
    const nobody = "00000000-0000-4000-8000-000000000000";
    const toNobody = (column: string) => [new RegExp(`"${column}":"[^"]+"`), `"${column}":"${nobody}"`] as const;
    const bad = (table: string, column: string) => zipWith(`records/${table}.jsonl`, ...toNobody(column));
    await refused(
      await bad("ballots", "bout_id"),
      `records/ballots.jsonl, line 1: bout_id is ${nobody}, which is not in bouts`,
    );
    await refused(await bad("bouts", "left_entry_id"), `records/bouts.jsonl, line 1: left_entry_id is ${nobody}`);
    await refused(await bad("entrants", "version_id"), "which is not in entrant_versions");
    await refused(
      await zipWith("records/ballots.jsonl", /"lean":-?\d/, '"lean":"two"'),
      /records\/ballots.jsonl, line 1: lean: /,
    );
    await refused(await zipWith("records/ballots.jsonl", /"lean":-?\d/, '"lean":7'), "records/ballots.jsonl: ");
    await refused(await zipWith("records/bouts.jsonl", "{", "{{"), "records/bouts.jsonl, line 1: it is no JSON object");
    await refused(
      await zipWith("records/editions.jsonl", "A suite", "Another"),
      "its content is not that of its digest",
    );
    const lost = new Map([...files].filter(([path]) => !path.endsWith("take-1/artifact/index.html")));
    await refused(
      await zipAgain(lost),
      /records\/entries.jsonl, line 1: its file of digest [0-9a-f]{12}… is not in it/,
    );
  });

  it("meets a Tourney that is not empty", async () => {
    await expect(here.services.bundleImports.importBundle(bundlePath, quiet)).rejects.toThrow("not empty");
  });
});
