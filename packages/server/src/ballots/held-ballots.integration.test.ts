import type { Edition } from "@tourney/core/contract";
import { afterAll, beforeAll, expect, it } from "vitest";
import { pino } from "pino";
import * as z from "zod";
import { castBallots } from "../../test-support/cast-ballots.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { connectDatabase } from "../db/connection.js";
import { readLean, readSign } from "./ballot-queries.sql.js";
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
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three")));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
  token = await invite();
  held = new HeldBallots(server.db);
  held.hold();
});
afterAll(() => server.close());

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
    ...{ dwellMs: columns.dwellMs[b]!, leftWorks: readSign(columns.signs[b]!, "leftWorks") === 1 },
    pointer: readSign(columns.signs[b]!, "pointer"),
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
  sometimes.hold();
  const before = listHeld(await sometimes.read(edition.id));
  isAway = true;
  await expect(sometimes.read(edition.id)).rejects.toThrow("It is away.");
  isAway = false;
  await castBallots(server, { token, seed: 4, ballots: 3 });
  expect(listHeld(await sometimes.read(edition.id)).length).toBeGreaterThan(before.length);
  expect(sorted(listHeld(await sometimes.read(edition.id)))).toEqual(sorted(await listStored()));
});
