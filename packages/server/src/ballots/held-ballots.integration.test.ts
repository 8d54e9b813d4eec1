import { mkdtemp, readdir, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Edition } from "@tourney/core/contract";
import { afterAll, beforeAll, expect, it, vi } from "vitest";
import { pino } from "pino";
import * as z from "zod";
import { castBallots } from "../../test-support/cast-ballots.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { connectDatabase, type RowQuery } from "../db/connection.js";
import { BALLOTS, readLean, signReader } from "./ballot-queries.sql.js";
import type { BallotTable } from "./ballot-table.js";
import { HeldBallots } from "./held-ballots.js";

let server: TestServer;
let edition: Edition;
let token: string;
const invite = async (): Promise<string> => {
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 40, message: "" });
  return panel.url.split("/").at(-1)!;
};
let held: HeldBallots;
const warn = vi.fn();
let root: string;
/** Where processes that start from now on have their files. */
let dir: string;
const files = ({ writes = false } = {}) => ({ dir, warn, leastBallots: writes ? 0 : Infinity });
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), "tourney-held-"));
  dir = join(root, "first");
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
  token = await invite();
  held = new HeldBallots(server.db);
  held.hold(files());
});
afterAll(async () => {
  await server.close();
  await rm(root, { recursive: true, maxRetries: 5 });
});

/** Each ballot with what it names, as the database has it. */
const Ballot = z.object({
  ...{ voter: z.string(), wording: z.string(), left: z.string(), right: z.string(), lean: z.int(), at: z.int() },
  ...{ dwellMs: z.int(), leftWorks: z.boolean(), pointer: z.int() },
});
const listStored = () =>
  server.db.select(
    Ballot,
    `SELECT o.voter_id AS voter, o.wording_id AS wording, o.left_entry_id AS left, o.right_entry_id AS right, b.lean, floor(extract(epoch FROM b.cast_at))::int AS at,
       b.dwell_ms AS "dwellMs", b.left_works AS "leftWorks", coalesce(array_position('{mouse,touch,pen,none}'::text[], b.seen_with->>'pointer'), 0) AS pointer
     FROM ballots b JOIN bouts o ON o.id = b.bout_id WHERE b.voided_at IS NULL`,
  );
const listHeld = ({ voterIds, wordingIds, entries, columns }: BallotTable): z.infer<typeof Ballot>[] =>
  Array.from(columns.at, (at, b) => ({
    ...{ voter: voterIds[columns.voter[b]!]!, wording: wordingIds[columns.prompt[b]!]!, at },
    ...{ left: entries[columns.left[b]!]!.id, right: entries[columns.right[b]!]!.id },
    lean: readLean(columns.signs[b]!),
    ...{ dwellMs: columns.dwellMs[b]!, leftWorks: signReader("leftWorks")(columns.signs[b]!) === 1 },
    pointer: signReader("pointer")(columns.signs[b]!),
  }));
const sorted = (ballots: readonly object[]) =>
  ballots.map((one) => JSON.stringify(one, Object.keys(one).toSorted())).toSorted();

/** What is held is what is stored, and a second look at the same gives the same in the same order. */
async function expectAsStored(): Promise<number> {
  const [first, again, stored] = [await held.read(edition.id), await held.read(edition.id), await listStored()];
  expect(sorted(listHeld(first))).toEqual(sorted(stored));
  expect(listHeld(again)).toEqual(listHeld(first));
  expect(listHeld(await new HeldBallots(server.db).read(edition.id))).toEqual(listHeld(first));
  expect(Array.from(first.columns.at)).toEqual(Array.from(first.columns.at.toSorted()));
  return stored.length;
}

it("follows ballots that are cast and taken back", async () => {
  expect(await expectAsStored()).toBe(0);
  const voter = await castBallots(server, { token, seed: 1, ballots: 8 });
  const before = await expectAsStored();
  expect(before).toBeGreaterThan(3);
  await castBallots(server, { token, seed: 2, ballots: 5 });
  const more = await expectAsStored();
  expect(more).toBeGreaterThan(before);
  expect((await voter.delete(`/api/booth/${token}/last-ballot`)).status).toBe(200);
  expect(await expectAsStored()).toBe(more - 1);
});

it("knows entries that came after the others", async () => {
  await makeEntries(server, edition, ["thrift"]);
  await castBallots(server, { token: await invite(), seed: 3, ballots: 18 });
  await expectAsStored();
  const { entries } = await held.read(edition.id);
  expect(new Set(entries.map(({ entrantId }) => entrantId)).size).toBe(4);
});

it("reads many voters at once as it reads them one by one", async () => {
  // More than are read without being handed over in pieces.
  for (let seed = 100; seed < 128; seed++) await castBallots(server, { token, seed, ballots: 1 });
  await expectAsStored();
  const table = await held.read(edition.id);
  expect(table.voterIds.length).toBeGreaterThan(25);
  // It needs no second connection for what it looks up on the way.
  const db = await connectDatabase(server.db.connection, pino({ level: "silent" }), { connections: 1 });
  expect(listHeld(await new HeldBallots(db).read(edition.id))).toEqual(listHeld(table));
  await db.close();
});

it("has the id of each where they are asked for, in the same order", async () => {
  const [plain, withIds] = [await held.read(edition.id), await held.readWithIds(edition.id)];
  expect(plain.ids).toEqual([]);
  expect(listHeld(withIds)).toEqual(listHeld(plain));
  const Lean = z.object({ id: z.string(), lean: z.int() });
  const stored = await server.db.select(Lean, "SELECT id, lean FROM ballots WHERE voided_at IS NULL");
  const leanOf = new Map(stored.map(({ id, lean }) => [id, lean]));
  expect(withIds.ids.map((id) => leanOf.get(id))).toEqual(listHeld(withIds).map(({ lean }) => lean));
});

it("is read as a whole again after a reading that failed", async () => {
  let isAway = false;
  const sometimes = new HeldBallots({
    ...server.db,
    select: (...asked) => (isAway ? Promise.reject(new Error("It is away.")) : server.db.select(...asked)),
  });
  sometimes.hold(files());
  const before = listHeld(await sometimes.read(edition.id));
  isAway = true;
  await expect(sometimes.read(edition.id)).rejects.toThrow("It is away.");
  isAway = false;
  await castBallots(server, { token, seed: 4, ballots: 3 });
  expect(listHeld(await sometimes.read(edition.id)).length).toBeGreaterThan(before.length);
  expect(sorted(listHeld(await sometimes.read(edition.id)))).toEqual(sorted(await listStored()));
});

/** A process that starts anew, which may write a file, and the voters whose ballots it asks the database for. */
function startAnew({ writes = false } = {}): { anew: HeldBallots; asked: unknown[] } {
  const asked: unknown[] = [];
  const note = ({ sql, bind }: Pick<RowQuery<unknown>, "sql" | "bind">) => {
    if (sql === BALLOTS) asked.push(...(bind[0] as unknown[]));
  };
  const anew = new HeldBallots({
    ...server.db,
    select: (row, sql, bind = [], transaction) => {
      note({ sql, bind });
      return server.db.select(row, sql, bind, transaction);
    },
    selectInPieces: (query, size, take) => {
      note(query);
      return server.db.selectInPieces(query, size, take);
    },
  });
  anew.hold(files({ writes }));
  return { anew, asked };
}
/** A process that starts with no file, and writes one. */
async function writeFile(): Promise<void> {
  dir = await mkdtemp(join(root, "file-"));
  const { anew, asked } = startAnew({ writes: true });
  await anew.read(edition.id);
  expect(asked.length).toBeGreaterThan(25);
  await vi.waitFor(async () => expect(await readdir(dir)).toEqual([`${edition.id}.ballots`]));
}

it("takes over what the last process held, and reads those whose ballots have changed since", async () => {
  await writeFile();
  const second = startAnew();
  expect(await second.anew.read(edition.id)).toEqual(await held.read(edition.id));
  expect(second.asked).toEqual([]);

  const voter = await castBallots(server, { token, seed: 900, ballots: 2 });
  const third = startAnew();
  await third.anew.read(edition.id);
  expect(third.asked).toHaveLength(1);
  expect((await voter.delete(`/api/booth/${token}/last-ballot`)).status).toBe(200);
  const fourth = startAnew();
  expect(sorted(listHeld(await fourth.anew.read(edition.id)))).toEqual(sorted(await listStored()));
  expect(fourth.asked).toEqual(third.asked);
  expect(warn).not.toHaveBeenCalled();
});

it("reads the ballots of a voter anew who has as many as before, but others", async () => {
  const voter = await castBallots(server, { token, seed: 901, ballots: 2 });
  await writeFile();
  expect((await voter.delete(`/api/booth/${token}/last-ballot`)).status).toBe(200);
  const { bouts } = z
    .object({ bouts: z.array(z.object({ token: z.string() })) })
    .parse((await voter.get(`/api/booth/${token}/bouts`)).body);
  const ballot = { lean: 0, leftWorks: true, dwellMs: 77_777 };
  expect((await voter.post(`/api/booth/bouts/${bouts[0]!.token}/ballot`, ballot)).status).toBeLessThan(300);
  const read = listHeld(await startAnew().anew.read(edition.id));
  expect(sorted(read)).toEqual(sorted(await listStored()));
  expect(read.map(({ dwellMs }) => dwellMs)).toContain(77_777);
});
