import { readFile } from "node:fs/promises";
import { EVERYTHING } from "@tourney/core/contract";
import { toClientConfig } from "@tourney/store";
import pg from "pg";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { createDatabase, reach, startTestServer, type TestServer } from "../../test-support/test-server.js";

/**
 * A data folder's database as the schema before wordings had it, made by the product of that time: two editions that share wordings and were
 * asked both, an entrant of three versions of which two differ in prices alone, answers by another model, refusals, failures, mends, ballots,
 * and two prompts that ask the same.
 */
const OLD_DATA = new URL("../../test-support/data-before-wordings.sql", import.meta.url);

let server: TestServer;
let before: Record<string, number>;
let takesBefore: { key: string; edition: number; entrant: string; takes: number[] }[];

async function countRows(client: pg.Client): Promise<Record<string, number>> {
  const { rows } = await client.query<{ name: string }>(
    "SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public'",
  );
  const counts: Record<string, number> = {};
  for (const { name } of rows) {
    const counted = await client.query<{ n: number }>(`SELECT count(*)::int AS n FROM public."${name}"`);
    counts[name] = counted.rows[0]!.n;
  }
  return counts;
}

beforeAll(async () => {
  const name = await createDatabase();
  const client = new pg.Client(toClientConfig(await reach(name)));
  await client.connect();
  await client.query("DROP SCHEMA public CASCADE");
  await client.query(await readFile(OLD_DATA, "utf8"));
  await client.query("SET search_path = public");
  before = await countRows(client);
  takesBefore = (
    await client.query<(typeof takesBefore)[number]>(
      `SELECT q.key, d.number AS edition, n.key AS entrant, array_agg(DISTINCT g.take) AS takes FROM generations g JOIN prompts q ON q.id = g.prompt_id
       JOIN editions d ON d.id = q.edition_id JOIN entrants n ON n.id = g.entrant_id GROUP BY 1, 2, 3`,
    )
  ).rows;
  await client.end();
  server = await startTestServer({ database: name });
});
afterAll(() => server.close());

const editionIds = async () =>
  new Map((await server.services.suites.listEditions()).map(({ number, id }) => [number, id]));

describe("a data folder of the schema before wordings", () => {
  it("is migrated without losing a row of any table", async () => {
    const client = new pg.Client(server.pool.options);
    await client.connect();
    const after = await countRows(client);
    await client.end();
    const { migrations, prompt_tallies, voter_tallies, voter_prompt_tallies, entrant_versions, audit_trail, ...kept } =
      before;
    expect(after).toMatchObject(kept);
    expect(Object.values(before).filter((n) => n === 0).length).toBeLessThan(6);
    // Versions that differed in prices alone are one; what they were stands in the audit trail.
    expect(after["entrant_versions"]).toBe(entrant_versions! - 1);
    expect(after["audit_trail"]).toBe(audit_trail! + 1);
    expect(after["migrations"]).toBeGreaterThan(migrations!);
    expect([prompt_tallies, voter_tallies, voter_prompt_tallies].every((n) => n! > 0)).toBe(true);
  });

  it("gives editions that ask the same one wording, and its later answers further takes", async () => {
    const rows = await server.db.select(
      z.object({ key: z.string(), edition: z.int(), wordingId: z.string() }),
      `SELECT q.key, d.number AS edition, q.wording_id AS "wordingId" FROM prompts q JOIN editions d ON d.id = q.edition_id`,
    );
    const wordingOf = (key: string, edition: number) =>
      rows.find((row) => row.key === key && row.edition === edition)!.wordingId;
    for (const key of ["chart", "flag", "flag-plain", "flag-twin"]) expect(wordingOf(key, 1)).toBe(wordingOf(key, 2));
    expect(wordingOf("lamp", 1)).not.toBe(wordingOf("lamp", 2));
    expect(wordingOf("flag-plain", 1)).not.toBe(wordingOf("flag-twin", 1));
    const takesOf = (key: string, edition: number) =>
      takesBefore.find((row) => row.key === key && row.edition === edition && row.entrant === "thrift")?.takes;
    expect([takesOf("flag-plain", 1), takesOf("flag-plain", 2)]).toEqual([[1], [1]]);
    const takes = await server.db.select(
      z.object({ take: z.int(), answer: z.string() }),
      `SELECT g.take, g.answer FROM generations g JOIN entrants n ON n.id = g.entrant_id
       WHERE n.key = 'thrift' AND g.wording_id = $1 ORDER BY g.take`,
      [wordingOf("flag-plain", 1)],
    );
    expect(takes.map(({ take }) => take)).toEqual([1, 2]);
    expect(takes[1]!.answer).toContain("flag anew");
  });

  it("asks again for nothing but the prompt that was worded otherwise", async () => {
    const second = (await editionIds()).get(2)!;
    const edition = await server.services.suites.getEdition(second);
    const grid = await server.services.wall.getGrid(second);
    const column = grid.entrants.findIndex(({ name }) => name === "Name of thrift");
    const there = Object.fromEntries(edition.prompts.map(({ key }, row) => [key, grid.there[row]![column]]));
    expect(there).toEqual({ lamp: 0, chart: 1, flag: 0, "flag-plain": 2, "flag-twin": 1 });
  });

  it("keeps every ballot, and sets those aside that were cast on an answer by another model", async () => {
    const rows = await server.db.select(
      z.object({ voidedBy: z.string().nullable(), n: z.int(), mismatched: z.int() }),
      `SELECT b.voided_by AS "voidedBy", count(*)::int AS n, (count(*) FILTER (WHERE gl.is_mismatch OR gr.is_mismatch))::int AS mismatched
       FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
         JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id GROUP BY 1`,
    );
    const of = (by: string | null) => rows.find(({ voidedBy }) => voidedBy === by);
    expect(rows.reduce((sum, { n }) => sum + n, 0)).toBe(before["ballots"]);
    expect(of(null)?.mismatched ?? 0).toBe(0);
    expect(of("mismatch")!.mismatched).toBe(of("mismatch")!.n);
    const [counted] = await server.db.select(
      z.object({ n: z.int() }),
      "SELECT coalesce(sum(ballots), 0)::int AS n FROM counted_voters",
    );
    expect(counted!.n).toBe(of(null)?.n ?? 0);
    const [outcomes] = await server.db.select(
      z.object({ sides: z.int(), ballots: z.int() }),
      `SELECT (SELECT sum(won + lost + even)::int FROM entry_outcomes) AS sides,
         (SELECT count(*)::int FROM ballots b JOIN bouts o ON o.id = b.bout_id WHERE b.voided_at IS NULL AND NOT o.is_repeat) AS ballots`,
    );
    expect(outcomes!.ballots).toBeGreaterThan(0);
    expect(outcomes!.sides).toBe(2 * outcomes!.ballots);
  });

  it("leaves every entry readable, with its prompt, its version and its rounds", async () => {
    const rows = await server.db.select(z.object({ id: z.string() }), "SELECT id FROM entries");
    expect(rows.length).toBe(before["entries"]);
    for (const { id } of rows) {
      const entry = await server.services.entries.getDetail(id);
      expect(entry.rounds.map(({ entryId }) => entryId)).toContain(id);
      expect(entry.version.number).toBeGreaterThan(0);
    }
  });

  it("goes on: the suite's file finds its edition, and what is missing can be run", async () => {
    const first = (await editionIds()).get(1)!;
    const { yaml } = await server.services.suites.exportFile(first);
    expect(yaml).toContain("tourney-suite/2");
    expect(await server.services.suites.importSuite(yaml)).toMatchObject({ created: false, edition: { number: 1 } });
    await expect(server.services.standings.getStandings(first)).resolves.toMatchObject({ counts: EVERYTHING });
  });
});
