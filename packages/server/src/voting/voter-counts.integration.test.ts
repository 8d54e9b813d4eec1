import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { castBallots } from "../../test-support/cast-ballots.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { BallotListRepository } from "./ballot-list-repository.js";
import { BallotTotal } from "./ballot-total.js";

let server: TestServer;

const Kind = z.object({ is_repeat: z.boolean(), contest: z.string() });

beforeAll(async () => {
  server = await startTestServer();
  const { edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three"));
  await makeEntries(server, edition, ["gorse", "heath", "sedge", "thrift"]);
  const { url } = await server.services.panels.add({ editionId: edition.id, title: "All", quota: 20, message: "" });
  for (const seed of [1, 2, 3]) await castBallots(server, { token: url.split("/").at(-1)!, seed, ballots: 8 });
  // Of the open bouts whose entries a voter sees together once, every other one becomes a repeat, and half of them are of another contest; then all open bouts get a ballot.
  await server.db.execute(
    `WITH open AS (SELECT o.id, row_number() OVER (ORDER BY o.id) AS n FROM bouts o WHERE o.id NOT IN (SELECT bout_id FROM ballots) AND o.skipped_at IS NULL
         AND NOT EXISTS (SELECT FROM bouts t WHERE t.id <> o.id AND t.voter_id = o.voter_id
           AND least(t.left_entry_id, t.right_entry_id) = least(o.left_entry_id, o.right_entry_id) AND greatest(t.left_entry_id, t.right_entry_id) = greatest(o.left_entry_id, o.right_entry_id)))
     UPDATE bouts o SET is_repeat = n % 2 = 0, contest = CASE WHEN n % 4 < 2 THEN 'takes' ELSE contest END FROM open WHERE open.id = o.id`,
  );
  await server.db.execute(`INSERT INTO ballots (bout_id, lean, left_works, right_works, reasons, dwell_ms)
    SELECT id, 1, true, true, '[]', 2000 FROM bouts WHERE id NOT IN (SELECT bout_id FROM ballots) AND skipped_at IS NULL`);
  const kinds = await server.db.select(
    Kind,
    "SELECT DISTINCT o.is_repeat, o.contest FROM bouts o JOIN ballots b ON b.bout_id = o.id",
  );
  expect(kinds.some((kind) => kind.is_repeat) && kinds.some(({ contest }) => contest === "takes")).toBe(true);
});
afterAll(() => server.close());

const Counted = z.object({ id: z.uuid(), ballots: z.int(), skipped: z.int(), last: z.coerce.string().nullable() });
const list = (sql: string) => server.db.select(Counted, sql);
const kept = () =>
  list("SELECT voter_id AS id, ballots, skipped, last_ballot_at::text AS last FROM counted_voters ORDER BY 1");
const counted = () =>
  list(`SELECT v.id, (count(b.id) FILTER (WHERE b.voided_at IS NULL))::int AS ballots,
      (SELECT count(*)::int FROM bouts s WHERE s.voter_id = v.id AND s.skipped_at IS NOT NULL) AS skipped, max(b.cast_at)::text AS last
    FROM voters v LEFT JOIN bouts o ON o.voter_id = v.id LEFT JOIN ballots b ON b.bout_id = o.id GROUP BY 1 ORDER BY 1`);

/** Statements that change any number of rows of any voters, as the lead's redoing or voiding do. */
const some = (salt: number, table: string) => `hashtextextended(${table}.id::text, ${salt}) % 3 = 0`;
const CHANGES: Record<string, (salt: number) => string> = {
  "void some": (salt) =>
    `UPDATE ballots SET voided_at = now(), void_reason = 'to see', voided_by = 'lead' WHERE voided_at IS NULL AND ${some(salt, "ballots")}`,
  "restore some": (salt) =>
    `UPDATE ballots SET voided_at = NULL, void_reason = NULL, voided_by = NULL WHERE voided_by = 'lead' AND ${some(salt, "ballots")}`,
  "change some notes": (salt) => `UPDATE ballots SET note = 'seen' WHERE ${some(salt, "ballots")}`,
  "leave some out": (salt) =>
    `UPDATE voters SET left_out_at = now(), left_out_why = 'to see' WHERE ${some(salt, "voters")}`,
  "take all in": () => "UPDATE voters SET left_out_at = NULL, left_out_why = NULL WHERE left_out_at IS NOT NULL",
  "pass over some": (salt) =>
    `UPDATE bouts SET skipped_at = now(), skip_reason = 'alike' WHERE skipped_at IS NULL AND ${some(salt, "bouts")}`,
  "sum up": () => "SELECT sum_up_outcomes((SELECT array_agg(id) FROM wordings))",
  "ask some again": (salt) =>
    `UPDATE bouts SET skipped_at = NULL, skip_reason = NULL WHERE skipped_at IS NOT NULL AND ${some(salt, "bouts")}`,
};

/** Bouts with the lean that was copied to them, and with the one of their ballot. */
const Lean = z.object({ id: z.uuid(), lean: z.int().nullable() });
const leans = (sql: string) => server.db.select(Lean, sql);
const copied = () => leans("SELECT id, cast_lean AS lean FROM bouts ORDER BY 1");
const cast = () =>
  leans("SELECT o.id, b.lean FROM bouts o LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL ORDER BY 1");

/** What voters made of each entry, as triggers counted it, and as all ballots would have it. */
const Outcome = z.object({ id: z.uuid(), won: z.int(), lost: z.int(), even: z.int() });
const outcomes = () =>
  server.db.select(
    Outcome,
    `SELECT entry_id AS id, sum(won)::int AS won, sum(lost)::int AS lost, sum(even)::int AS even FROM entry_outcomes
     GROUP BY 1 HAVING sum(won) <> 0 OR sum(lost) <> 0 OR sum(even) <> 0 ORDER BY 1`,
  );
const countOutcomes = () =>
  server.db.select(
    Outcome,
    `SELECT s.id, (count(*) FILTER (WHERE s.lean > 0))::int AS won, (count(*) FILTER (WHERE s.lean < 0))::int AS lost, (count(*) FILTER (WHERE s.lean = 0))::int AS even
     FROM ballots b JOIN bouts o ON o.id = b.bout_id CROSS JOIN LATERAL (VALUES (o.left_entry_id, -b.lean), (o.right_entry_id, b.lean)) s(id, lean)
     WHERE b.voided_at IS NULL AND o.contest = 'entrants' AND NOT o.is_repeat GROUP BY 1 ORDER BY 1`,
  );

/** How many ballots the lead's list has by each of its filters, and how many there are. */
function makeTotals(editionId: string): BallotTotal[] {
  const ballots = new BallotListRepository(server.db);
  return (["all", "that count", "with a note", "voided"] as const).map((only) => {
    const wanted = { scope: {}, only, before: null, limit: 1 };
    return new BallotTotal(server.db, editionId, (voterIds) => ballots.countByVoter(editionId, wanted, voterIds));
  });
}
const Totals = z.object({ all: z.int(), counted: z.int(), noted: z.int(), voided: z.int() });
async function countTotals(): Promise<number[]> {
  const [row] = await server.db.select(
    Totals,
    `SELECT count(*)::int AS all, (count(*) FILTER (WHERE b.voided_at IS NULL AND v.left_out_at IS NULL AND o.contest = 'entrants'))::int AS counted,
       (count(*) FILTER (WHERE b.note <> ''))::int AS noted, (count(*) FILTER (WHERE b.voided_at IS NOT NULL))::int AS voided
     FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id`,
  );
  return Object.values(row!);
}

describe("what triggers count", () => {
  it("is kept as a count of all ballots and bouts would have them, whatever changes", async () => {
    const before = await counted();
    expect(before.every(({ ballots }) => ballots > 4)).toBe(true);
    expect(await kept()).toEqual(before);
    const leansBefore = await copied();
    expect(leansBefore).toEqual(await cast());
    expect(new Set(leansBefore.map(({ lean }) => lean)).size).toBeGreaterThan(3);
    const outcomesBefore = await outcomes();
    expect(outcomesBefore).toEqual(await countOutcomes());
    expect(outcomesBefore.some(({ won, lost, even }) => won > 0 && lost > 0 && even > 0)).toBe(true);
    const totals = makeTotals((await server.services.suites.listEditions())[0]!.id);
    const change = fc.record({ name: fc.constantFrom(...Object.keys(CHANGES)), salt: fc.nat(50) });
    await fc.assert(
      fc.asyncProperty(change, async ({ name, salt }) => {
        await server.db.execute(CHANGES[name]!(salt));
        expect(await kept()).toEqual(await counted());
        expect(await copied()).toEqual(await cast());
        expect(await outcomes()).toEqual(await countOutcomes());
        expect(await Promise.all(totals.map((total) => total.read()))).toEqual(await countTotals());
      }),
      { numRuns: 40 },
    );
    await server.db.execute(
      "DELETE FROM ballots WHERE id IN (SELECT id FROM ballots ORDER BY voided_at NULLS FIRST, id LIMIT 5)",
    );
    expect(await copied()).toEqual(await cast());
    expect(await outcomes()).toEqual(await countOutcomes());
    expect(await Promise.all(totals.map((total) => total.read()))).toEqual(await countTotals());
    const [panel] = await server.services.panels.list((await server.services.suites.listEditions())[0]!.id);
    const after = await counted();
    expect(panel!.ballots).toBe(after.reduce((sum, { ballots }) => sum + ballots, 0));
    expect(panel!.voters.map(({ ballots }) => ballots).toSorted()).toEqual(
      after.map(({ ballots }) => ballots).toSorted(),
    );
  });

  it("is summed up now and then, so that they do not grow with the ballots", async () => {
    const Rows = z.object({ there: z.int(), ever: z.int() });
    const count = () =>
      server.db.select(Rows, "SELECT count(*)::int AS there, max(id)::int AS ever FROM entry_outcomes");
    for (let salt = 0; (await count())[0]!.ever < 5000; salt++) {
      await server.db.execute(CHANGES["void some"]!(salt));
      await server.db.execute(CHANGES["restore some"]!(salt));
    }
    // About 256 rows for each wording.
    expect((await count())[0]!.there).toBeLessThan(3000);
    expect(await outcomes()).toEqual(await countOutcomes());
  });
});
