import { API, type Operation } from "@tourney/core/contract";
import pg from "pg";
import { afterAll, beforeAll, expect, it } from "vitest";
import * as z from "zod";
import { castBallots } from "../../test-support/cast-ballots.js";
import type { Client } from "../../test-support/client.js";
import { fillBallots, fillEntries } from "../../test-support/fill.js";
import { entrantInput, suiteYaml } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { isPlanKept } from "./kept-plan.js";

/** Rows from which on a table is not gone through as a whole for a few of them. */
const LARGE = 2000;
/** As named in its addresses. */
let known: Record<string, string>;
let server: TestServer;
let lead: Client;
let panelToken: string;

interface Statement {
  text: string;
  values: unknown[];
}
const Plan: z.ZodType<PlanNode> = z.lazy(() =>
  z.looseObject({
    "Node Type": z.string(),
    "Relation Name": z.string().optional(),
    "Index Name": z.string().optional(),
    "Index Cond": z.string().optional(),
    Plans: z.array(Plan).optional(),
  }),
);
/** As the driver sends it. */
interface Sent {
  text: string;
  values?: unknown[];
  submit: (connection: unknown) => unknown;
}
interface PlanNode {
  "Node Type": string;
  "Relation Name"?: string | undefined;
  "Index Name"?: string | undefined;
  "Index Cond"?: string | undefined;
  Plans?: PlanNode[] | undefined;
}

beforeAll(async () => {
  server = await startTestServer();
  lead = await signIn(server);
  const { entrants, runs, panels, suites } = server.services;
  const entrantIds: string[] = [];
  for (let i = 0; i < 10; i++)
    entrantIds.push((await entrants.add(entrantInput(`entrant-${i}`, "http://127.0.0.1:9/v1"))).id);
  const enter = async (keys: string[], wanted: string[], takes: number) => {
    const yaml = suiteYaml(...keys).replaceAll("text: Build ", `text: With ${keys.length} others build `);
    const { edition } = await suites.importSuite(yaml.replace(/^key: .*$/m, `key: of-${keys.length}`));
    const promptIds = edition.prompts.map(({ id }) => id);
    const run = await runs.start({ editionId: edition.id, promptIds, entrantIds: wanted, takes });
    return { edition, run };
  };
  // One that fills the tables, and a small one that is asked about.
  const large = await enter(
    Array.from({ length: 40 }, (_, i) => `prompt-${i}`),
    entrantIds,
    10,
  );
  const small = await enter(["one", "two"], entrantIds.slice(0, 3), 1);
  const invite = (editionId: string) => panels.add({ editionId, title: "Friends", quota: 500, message: "" });
  // Two that look alike are never put beside one another.
  const pictures = await Promise.all(
    Array.from({ length: 240 }, async (_, i) => `${await server.services.blobs.put(Buffer.from(`picture ${i}`))}.webp`),
  );
  await fillEntries(server.db, { blobs: server.services.blobs, pictures });
  const { id: panelId } = await invite(large.edition.id);
  await fillBallots(server.db, { panelId, editionId: large.edition.id, voters: 100, ballots: 30_000 });
  const asked = await invite(small.edition.id);
  panelToken = asked.url.split("/").at(-1)!;
  await castBallots(server, { token: panelToken, seed: 1, ballots: 8 });
  await server.db.execute("ANALYZE");
  const [first] = await server.db.select(
    z.record(z.string(), z.string()),
    `SELECT e.id AS "entryId", g.id AS "generationId", r.id AS "renderId", v.id AS "voterId", b.id AS "ballotId"
     FROM generations g JOIN entries e ON e.generation_id = g.id JOIN renders r ON r.entry_id = e.id, ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
     WHERE g.run_id = $1 AND v.panel_id = $2 LIMIT 1`,
    [small.run.id, asked.id],
  );
  known = {
    ...first,
    ...{ editionId: small.edition.id, runId: small.run.id, panelId: asked.id, suiteKey: "of-2", panelToken },
    ...{ entrantId: entrantIds[0]!, judge: "anna" },
  };
}, 180_000);
afterAll(() => server.close());

/** What was sent to the database meanwhile, each text once. */
async function listen(work: () => Promise<void>): Promise<Statement[]> {
  const heard = new Map<string, Statement>();
  const sent = pg.Query.prototype as unknown as Sent;
  const { submit } = sent;
  sent.submit = function (this: typeof sent, connection) {
    heard.set(this.text, { text: this.text, values: this.values ?? [] });
    return submit.call(this, connection);
  };
  try {
    await work();
  } finally {
    sent.submit = submit;
  }
  return [...heard.values()].filter(
    ({ text }) => isPlanKept(text) || /^\s*(SELECT|WITH|UPDATE|INSERT|DELETE)\b/i.test(text),
  );
}

/**
 * Tables of which a plan reads all rows: one after the other, or along an index that holds all of them, without an end.
 *
 * @param partial indexes that hold only some rows of their table
 */
function listScanned(node: PlanNode, partial: ReadonlySet<string>, hasEnd = false): string[] {
  const isAlong = /^Index (?:Only )?Scan/.test(node["Node Type"]) && node["Index Cond"] === undefined;
  const isWhole = node["Node Type"] === "Seq Scan" || (isAlong && !hasEnd && !partial.has(node["Index Name"]!));
  const below = hasEnd || node["Node Type"] === "Limit";
  return [
    ...(isWhole ? [node["Relation Name"]!] : []),
    ...(node.Plans ?? []).flatMap((plan) => listScanned(plan, partial, below)),
  ];
}

const listNames = async (sql: string, bind: readonly unknown[] = []): Promise<Set<string>> =>
  new Set((await server.db.select(z.object({ name: z.string() }), sql, bind)).map(({ name }) => name));

/** So that the planner goes by indexes wherever there is one to go by, whatever it thinks of the tables of a test. */
const BY_INDEXES = [
  ...["enable_seqscan = off", "enable_hashjoin = off", "enable_mergejoin = off", "enable_material = off"],
  ...["random_page_cost = 1.1"],
].map((setting) => `SET LOCAL ${setting};`);

async function findScans(statements: readonly Statement[], settings: readonly string[] = []): Promise<string[]> {
  const large = await listNames(
    "SELECT relname AS name FROM pg_class WHERE relkind = 'r' AND reltuples > $1 AND relnamespace = 'public'::regnamespace",
    [LARGE],
  );
  const partial = await listNames("SELECT indexrelid::regclass::text AS name FROM pg_index WHERE indpred IS NOT NULL");
  expect([...large].sort()).toEqual(
    expect.arrayContaining(["attempts", "ballots", "bouts", "entries", "generations", "renders"]),
  );
  const scans: string[] = [];
  for (const { text, values } of statements) {
    const plans = z.array(Explained).parse(await explain({ text, values }, settings));
    for (const table of new Set(plans.flatMap(([{ plan }]) => listScanned(plan, partial))))
      if (large.has(table)) scans.push(`${table}: ${text.replace(/\s+/g, " ").trim().slice(0, 300)}`);
  }
  return scans;
}

const Explained = z.tuple([
  z
    .object({ "QUERY PLAN": z.tuple([z.object({ Plan })]) })
    .transform(({ "QUERY PLAN": [{ Plan: plan }] }) => ({ plan })),
]);

/** How a statement is planned for what is bound; where its plan is kept, also how it is for whatever is bound. */
async function explain({ text, values }: Statement, settings: readonly string[]): Promise<unknown[][]> {
  const client = await server.pool.connect();
  try {
    await client.query(`BEGIN; ${settings.join(" ")}`);
    const { rows } = await client.query<object>(`EXPLAIN (FORMAT JSON) ${text}`, values);
    if (!isPlanKept(text)) return [rows];
    await client.query(`SET LOCAL plan_cache_mode = force_generic_plan; PREPARE asked AS ${text}`);
    const bound = values.length === 0 ? "" : `(${values.map(() => "NULL").join(", ")})`;
    const kept = await client.query<object>(`EXPLAIN (FORMAT JSON) EXECUTE asked ${bound}; DEALLOCATE asked`);
    return [rows, (kept as unknown as { rows: object[] }[])[0]!.rows];
  } finally {
    await client.query("ROLLBACK");
    client.release();
  }
}

const fill = (path: string): string | null => {
  const filled = path.replace(/:(\w+)/g, (_, name: string) => known[name] ?? ":");
  return filled.includes(":") ? null : filled;
};

/** Operations that want to be asked with something. */
const QUERIES: Record<string, string> = { search: "?words=few" };
const NEED_MORE = ["compareEditions"];

it("finds an index for everything that a screen of an edition reads", async () => {
  const asked: string[] = [];
  const statements = await listen(async () => {
    for (const { id, method, path, access } of Object.values(API) as Operation[]) {
      const address = method === "get" && access === "lead" && !NEED_MORE.includes(id) ? fill(path) : null;
      if (address === null) continue;
      const { status, text } = await lead.get(address + (QUERIES[id] ?? ""));
      // Some have nothing here, as the plan by which voting ends.
      expect([200, 404], `${address} ${text.slice(0, 200)}`).toContain(status);
      if (status === 200) asked.push(id);
    }
  });
  expect(asked).toEqual(
    expect.arrayContaining(["getWall", "getStandings", "listRuns", "listBallots", "getCourse", "getEntry"]),
  );
  expect(statements.length).toBeGreaterThan(30);
  expect(await findScans(statements, BY_INDEXES)).toEqual([]);
}, 120_000);

it("reads no large table as a whole for a voter's turn", async () => {
  const statements = await listen(async () => {
    await castBallots(server, { token: panelToken, seed: 2, ballots: 4 });
  });
  expect(statements.some(({ text }) => isPlanKept(text) && text.includes("INSERT INTO ballots"))).toBe(true);
  expect(await findScans(statements)).toEqual([]);
}, 60_000);
