/**
 * Times the migration of an old data folder's database: one that holds 15,000 entries and 200,000 ballots in the schema from before answers
 * belonged to wordings, in a PostgreSQL that writes to disk. Prints one JSON line.
 *
 *   npm run bench:migration [-- --entrants 30 --prompts 50 --takes 5 --ballots 200000]
 */
import { rmSync } from "node:fs";
import { cpus } from "node:os";
import { join } from "node:path";
import { SuiteDefinition } from "@tourney/core/contract";
import pino from "pino";
import * as z from "zod";
import { startCluster } from "../packages/cli/src/cluster.js";
import { openInstance } from "../packages/cli/src/instance.js";
import { STATE_DIR } from "../packages/cli/src/paths.js";
import { connectDatabase, type Database } from "../packages/server/src/db/connection.js";
import { createMigrator, migrate } from "../packages/server/src/db/migrate.js";
import { openPool } from "../packages/server/src/jobs/pool.js";
import { flag } from "./booth-scene.js";

/** The last migration of the schema from before wordings. */
const OLD = "202611260600-count-together";
const EDITIONS = 2;
/** A page of ordinary length; the text is made of digests, so that it does not shrink to nothing on disk. */
const ANSWER_DIGESTS = 250;

const size = {
  entrants: flag("entrants", 30),
  prompts: flag("prompts", 50),
  takes: flag("takes", 5),
  ballots: flag("ballots", 200_000),
};
const log = pino({ level: "silent" });

/** One edition as it was stored then: `stages` where it now says `turns`. One prompt in five reads differently in each edition. */
function oldContent(edition: number): { prompts: object[] } {
  const prompts = Array.from({ length: size.prompts }, (_, i) => ({
    key: `prompt-${i}`,
    title: `Prompt ${i}`,
    kind: "animation",
    text: `Draw wave ${i}${i % 5 === 0 ? `, the ${edition}. way` : ""}.`,
    summary: "A wave",
    motion: true,
    watchpoints: ["It moves"],
  }));
  const suite = SuiteDefinition.parse({ format: "tourney-suite/1", key: "waves", title: "Waves", prompts });
  return { ...suite, prompts: suite.prompts.map(({ turns, ...prompt }) => ({ ...prompt, stages: turns })) };
}

async function fill(db: Database): Promise<void> {
  const id = z.object({ id: z.string() });
  const [suite] = await db.select(id, "INSERT INTO suites (key, title) VALUES ('waves', 'Waves') RETURNING id");
  for (let number = 1; number <= EDITIONS; number++) {
    const content = oldContent(number);
    await db.execute(
      `WITH made AS (
         INSERT INTO editions (suite_id, number, digest, content) VALUES ($1, $2::int, encode(sha256($2::text::bytea), 'hex'), $3::jsonb) RETURNING id, content)
       INSERT INTO prompts (edition_id, key, position, kind, content)
       SELECT made.id, prompt->>'key', at - 1, prompt->>'kind', prompt FROM made, jsonb_array_elements(made.content->'prompts') WITH ORDINALITY AS p(prompt, at)`,
      [suite!.id, number, JSON.stringify(content)],
    );
  }
  const [endpoint] = await db.select(
    id,
    "INSERT INTO endpoints (protocol, base_url) VALUES ('chat-completions', 'http://localhost:1/v1') RETURNING id",
  );
  await db.execute(
    `INSERT INTO entrants (key, name, endpoint_id, model, settings, glyph, version)
     SELECT 'entrant-' || i, 'Entrant ' || i, $1, 'model-' || i, '{"temperature": 0.5}', i % 16, 2 FROM generate_series(1, $2::int) AS i`,
    [endpoint!.id, size.entrants],
  );
  await db.execute(`INSERT INTO entrant_versions (entrant_id, number, content)
    SELECT id, number, jsonb_build_object('key', key, 'name', name, 'maker', '', 'model', model, 'prices', null, 'settings', jsonb_build_object('temperature', number * 0.25),
      'endpoint', jsonb_build_object('protocol', 'chat-completions', 'baseUrl', 'http://localhost:1/v1'))
    FROM entrants, generate_series(1, 2) AS number`);
  await db.execute("INSERT INTO runs (edition_id, number, takes) SELECT id, number, $1 FROM editions", [size.takes]);
  await db.execute(
    `INSERT INTO generations (run_id, prompt_id, entrant_id, take, state, attempts, requested_model, request, answer, usage, timings, cost_usd, finish_reason,
       reported_model, answered_at, endpoint_id, entrant_version, tries, outcome)
     SELECT r.id, q.id, n.id, take, 'answered', 1, n.model, '{"messages": []}', text.value, '{"inputTokens": 100, "outputTokens": 4000}',
       '{"firstTokenMs": 300, "totalMs": 20000}', 0.01, 'stop', n.model, now(), n.endpoint_id, 1 + take % 2, 1, 'answered'
     FROM prompts q JOIN runs r ON r.edition_id = q.edition_id CROSS JOIN entrants n CROSS JOIN generate_series(1, $1::int) AS take
     CROSS JOIN LATERAL (SELECT string_agg(md5(q.id::text || n.id || take || i), '') AS value FROM generate_series(1, $2::int) AS i) AS text`,
    [size.takes, ANSWER_DIGESTS],
  );
  await db.execute(`INSERT INTO attempts (generation_id, number, purpose, request, sent_at, ended_at, outcome, text, usage, first_token_ms, total_ms, cost_usd)
    SELECT id, 1, 'first', request, now(), now(), 'answered', answer, usage, 300, 20000, cost_usd FROM generations`);
  await db.execute(`INSERT INTO entries (generation_id, verdict, kind, entry_path, files, trace)
    SELECT id, 'ok', 'html', 'index.html', '[]', '{"steps": []}' FROM generations`);
  await db.execute(`INSERT INTO renders (entry_id, number, state, recording, finished_at)
    SELECT id, 1, 'recorded', jsonb_build_object('notches', (SELECT jsonb_agg(md5(id::text || i)) FROM generate_series(1, 40) AS i)), now() FROM entries`);
  await fillBallots(db);
  await db.execute("ANALYZE");
}

/** Each voter meets a prompt several times, each time with sides that are one further apart, so that no pair comes twice. */
async function fillBallots(db: Database): Promise<void> {
  await db.execute(
    `INSERT INTO panels (edition_id, title, quota, token) SELECT id, 'Panel', 1000, md5(id::text) FROM editions`,
  );
  await db.execute(
    `INSERT INTO voters (panel_id, token_hash, name) SELECT id, md5(id::text || i), 'Voter ' || i FROM panels, generate_series(1, 250) AS i`,
  );
  await db.execute(
    `WITH sides AS (
       SELECT q.edition_id, g.prompt_id, array_agg(x.id ORDER BY x.id) AS entries, array_agg(g.entrant_id ORDER BY x.id) AS entrants
       FROM entries x JOIN generations g ON g.id = x.generation_id JOIN prompts q ON q.id = g.prompt_id GROUP BY 1, 2),
     asked AS (
       SELECT v.id AS voter_id, s.*, cardinality(s.entries) AS n, round, row_number() OVER (PARTITION BY v.id) AS ordinal,
         (hashtextextended(v.id::text || s.prompt_id || round, 1) & 1073741823) AS drawn
       FROM voters v JOIN panels p ON p.id = v.panel_id JOIN sides s ON s.edition_id = p.edition_id
       CROSS JOIN generate_series(1, ceil($1::float / (SELECT count(*) FROM voters) / $2)::int) AS round)
     INSERT INTO bouts (voter_id, prompt_id, left_entry_id, right_entry_id, ordinal, token, left_token, right_token, reason, left_entrant_id, right_entrant_id)
     SELECT voter_id, prompt_id, entries[1 + drawn % n], entries[1 + (drawn + round) % n], ordinal, md5(voter_id::text || ordinal),
       md5('l' || voter_id || ordinal), md5('r' || voter_id || ordinal), 'fewest', entrants[1 + drawn % n], entrants[1 + (drawn + round) % n]
     FROM asked LIMIT $1`,
    [size.ballots, size.prompts],
  );
  await db.execute(`INSERT INTO ballots (bout_id, lean, left_works, right_works, reasons, dwell_ms, left_touched, right_touched)
    SELECT id, (hashtextextended(token, 2) & 1073741823) % 5 - 2, true, true, '[]', 4000, true, true FROM bouts`);
}

async function main(): Promise<void> {
  const instance = openInstance(`migration-${process.pid}`);
  const cluster = await startCluster(instance, { password: "for-this-bench-only", isThrowaway: false });
  const connection = { ...cluster.address, ssl: false as const };
  const db = await connectDatabase(connection, log);
  const pool = openPool(connection, log);
  const count = async (table: string) =>
    (await db.select(z.object({ n: z.int() }), `SELECT count(*)::int AS n FROM ${table}`))[0]!.n;
  try {
    await createMigrator(db.sequelize, log).up({ to: OLD });
    const fillStart = performance.now();
    await fill(db);
    const fillMs = performance.now() - fillStart;
    const [entries, ballots] = [await count("entries"), await count("ballots")];
    const start = performance.now();
    await migrate({ sequelize: db.sequelize, pool, log }, null);
    const migrationMs = performance.now() - start;
    const [server] = await db.select(
      z.object({ version: z.string() }),
      "SELECT current_setting('server_version') AS version",
    );
    const after = {
      entries: await count("entries"),
      ballots: await count("ballots"),
      wordings: await count("wordings"),
      countedBallots: (
        await db.select(z.object({ n: z.coerce.number() }), "SELECT sum(ballots) AS n FROM counted_voters")
      )[0]!.n,
    };
    console.log(
      JSON.stringify({
        bench: "migration",
        cpus: cpus().length,
        postgres: server!.version,
        entries,
        ballots,
        fillMs: Math.round(fillMs),
        migrationMs: Math.round(migrationMs),
        after,
      }),
    );
    if (after.entries !== entries || after.ballots !== ballots || after.countedBallots !== ballots)
      process.exitCode = 1;
  } finally {
    await pool.end();
    await db.close();
    await cluster.stop();
    rmSync(cluster.address.host, { recursive: true, force: true });
    rmSync(join(STATE_DIR, instance.name), { recursive: true, force: true });
  }
}

await main();
