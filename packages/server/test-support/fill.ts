import { RENDERER_VERSION } from "@tourney/core/contract";
import type { BlobStore } from "@tourney/store";
import type { Database, Transaction } from "../src/db/connection.js";
import { COUNT_BY_VOTER } from "../src/db/migrations/202611290500-count-by-voter.js";
import { COUNT_OUTCOMES } from "../src/db/migrations/202612011400-tally-outcomes.js";
import { PAGE } from "./scenario.js";

const FRAMES = 12;

/** Lets every generation be answered and recorded. All entries share one page, and the pictures: what takes room is rows. */
export async function fillEntries(
  db: Database,
  { blobs, pictures }: { blobs: Pick<BlobStore, "put">; pictures: readonly string[] },
): Promise<void> {
  const bytes = Buffer.from(PAGE);
  const sha256 = await blobs.put(bytes);
  await withoutTriggers(db, async (transaction) => {
    const run = (sql: string, bind: readonly unknown[] = []) => db.execute(sql, bind, transaction);
    await run(
      `UPDATE generations SET state = 'answered', outcome = 'answered', answer = 'An answer of a few words.', answered_at = now(),
         reported_model = requested_model, usage = '{"inputTokens": 100, "outputTokens": 4000}',
         timings = '{"queuedMs": 1, "firstTokenMs": 80, "firstTextMs": 90, "totalMs": 40000}', cost_usd = 0.02`,
    );
    await run(`INSERT INTO attempts (generation_id, number, purpose, request, sent_at, ended_at, outcome, text, usage, first_token_ms, total_ms, cost_usd)
      SELECT id, 1, 'first', coalesce(request, '{"messages": []}'), now(), now(), 'answered', answer, usage, 80, 40000, cost_usd FROM generations ON CONFLICT DO NOTHING`);
    await run(
      `INSERT INTO entries (generation_id, verdict, kind, entry_path, files, trace)
       SELECT id, 'ok', 'html', 'index.html', $1::jsonb, '[]' FROM generations`,
      [JSON.stringify([{ path: "index.html", bytes: bytes.length, sha256 }])],
    );
    await run(
      `INSERT INTO renders (entry_id, number, state, finished_at, recipe_digest, recording)
       SELECT e.id, 1, 'recorded', now(), q.recipe_digest, jsonb_build_object('rendererVersion', $1::text, 'outcome', 'ok', 'outcomeDetail', null,
         'clock', 'begin-frame', 'isolation', '{"sandbox": true, "unprivilegedUser": true, "networkNamespace": true, "memory": null}'::jsonb,
         'viewport', '{"width": 1280, "height": 800}'::jsonb, 'seconds', 6, 'seed', 1, 'views', '[]'::jsonb, 'console', '[]'::jsonb, 'requests', '[]'::jsonb,
         'frames', (SELECT jsonb_agg(jsonb_build_object('atMs', f * 500, 'sha256', left(p.file, 64), 'file', p.file, 'thumbnail', p.file) ORDER BY f)
            FROM generate_series(0, $3::int - 1) f JOIN LATERAL (SELECT ($2::text[])[1 + (hashtext(e.id::text) & 1023 + f * 7) % cardinality($2::text[])] AS file) p ON true),
         'metrics', jsonb_build_object('wallMs', 9000, 'domNodes', 40, 'motion', (SELECT jsonb_agg(0.05) FROM generate_series(2, $3::int))),
         'findings', CASE WHEN hashtext(e.id::text) % 5 = 0 THEN '[{"rule": "exception", "severity": "error", "message": "TypeError: x", "atMs": 0, "evidence": "x"}]' ELSE '[]' END::jsonb)
       FROM entries e JOIN generations g ON g.id = e.generation_id JOIN runs u ON u.id = g.run_id
         JOIN prompts q ON q.edition_id = u.edition_id AND q.wording_id = g.wording_id`,
      [RENDERER_VERSION, pictures, FRAMES],
    );
  });
  await db.execute("ANALYZE");
}

/** How far from one another the ratings of two neighbours are, in thousandths of a lean. */
const STEP = 15;

/**
 * Lets new voters of a panel cast ballots on everything that was recorded, evenly; the further entrants are apart in their order, the clearer. Tallies are
 * counted at the end, as the triggers would have.
 */
export async function fillBallots(
  db: Database,
  { panelId, editionId, voters, ballots }: { panelId: string; editionId: string; voters: number; ballots: number },
): Promise<void> {
  await withoutTriggers(db, async (transaction) => {
    const run = (sql: string, bind: readonly unknown[] = []) => db.execute(sql, bind, transaction);
    await run(
      `INSERT INTO voters (panel_id, token_hash, name) SELECT $1::uuid, encode(sha256(($1::uuid || 'voter' || i)::bytea), 'hex'), 'Voter ' || i FROM generate_series(1, $2::int) i`,
      [panelId, voters],
    );
    await run(
      `CREATE TEMPORARY TABLE sides ON COMMIT DROP AS
       SELECT q.id AS prompt_id, q.wording_id, dense_rank() OVER (ORDER BY q.position) - 1 AS place,
         array_agg(e.id ORDER BY n.created_at, n.id, g.take) AS entries, array_agg(g.version_id ORDER BY n.created_at, n.id, g.take) AS versions
       FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entrants n ON n.version_id = g.version_id JOIN entries e ON e.generation_id = g.id
       WHERE q.edition_id = $1 AND g.round = 0 AND g.superseded_at IS NULL AND e.edited_from IS NULL GROUP BY q.id`,
      [editionId],
    );
    // A prime step walks over all entries of a prompt before it comes to one again.
    await run(
      `WITH ranks AS (SELECT version_id, row_number() OVER (ORDER BY created_at, id) AS rank FROM entrants)
       INSERT INTO bouts (voter_id, prompt_id, wording_id, left_entry_id, right_entry_id, left_version_id, right_version_id, ordinal, token, left_token, right_token, reason, issued_at, cast_lean)
       SELECT v.id, s.prompt_id, s.wording_id, s.entries[1 + l], s.entries[1 + r], s.versions[1 + l], s.versions[1 + r], i / $1::int + 1,
         z.token, md5('l' || $3::uuid || i), md5('r' || $3::uuid || i), 'fewest', now() - make_interval(secs => ($2::int - i) * 0.5),
         greatest(-2, least(2, round((lr.rank - rr.rank) * $4::float / 1000 + ((hashtextextended(z.token, 2) & 1023) - 512) / 250.0)))::int
       FROM generate_series(0, $2::int - 1) i
         JOIN (SELECT id, row_number() OVER (ORDER BY id) - 1 AS place FROM voters WHERE panel_id = $3::uuid AND name LIKE 'Voter %') v ON v.place = i % $1::int
         JOIN sides s ON s.place = (i / $1::int * 7 + v.place) % (SELECT count(*) FROM sides)
         CROSS JOIN LATERAL (SELECT ((hashtextextended('l' || i, 0) & 1073741823) % cardinality(s.entries))::int AS l, ((hashtextextended('r' || i, 0) & 1073741823) % cardinality(s.entries))::int AS first) x
         CROSS JOIN LATERAL (SELECT CASE WHEN s.versions[1 + first] <> s.versions[1 + l] THEN first ELSE (l + cardinality(s.entries) / 2) % cardinality(s.entries) END AS r) y
         CROSS JOIN LATERAL (SELECT md5('b' || $3::uuid || i) AS token) z
         JOIN ranks lr ON lr.version_id = s.versions[1 + l] JOIN ranks rr ON rr.version_id = s.versions[1 + r]
       WHERE s.versions[1 + l] <> s.versions[1 + r] ON CONFLICT DO NOTHING`,
      [voters, ballots, panelId, STEP],
    );
    await run(
      `INSERT INTO ballots (bout_id, lean, left_works, right_works, reasons, dwell_ms, left_touched, right_touched, cast_at, seen_with)
       SELECT o.id, o.cast_lean,
         true, true, '[]', 4000, true, true, o.issued_at + interval '4 seconds', '{"width": 1280, "height": 800, "pointer": "mouse", "frameRate": 60}'
       FROM bouts o JOIN voters v ON v.id = o.voter_id
       WHERE v.panel_id = $1::uuid AND v.name LIKE 'Voter %'`,
      [panelId],
    );
    // What the triggers on ballots and bouts would have kept.
    await db.execute(COUNT_BY_VOTER, [], transaction);
    await db.execute(COUNT_OUTCOMES, [], transaction);
  });
  await db.execute("ANALYZE");
}

/** Runs what writes many rows without what each of them would set off: checks of references, notifications, counting. */
const withoutTriggers = (db: Database, write: (transaction: Transaction) => Promise<void>): Promise<void> =>
  db.transact(async (transaction) => {
    await db.execute("SET LOCAL session_replication_role = replica", [], transaction);
    await db.execute("SET LOCAL statement_timeout = 0", [], transaction);
    await write(transaction);
  });
