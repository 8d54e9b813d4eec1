import * as z from "zod";

/** A key of a row that goes into a bundle; bigint keys come as text. */
export const KeyRow = z.object({ key: z.string() });

/**
 * What a bundle of edition $1 is about: its wordings, and the editions whose runs, redos and panels had to do with them. What is still under way
 * stays behind: it would never end elsewhere.
 */
const WITH = `
  WITH w AS (SELECT DISTINCT wording_id AS id FROM prompts WHERE edition_id = $1),
  g AS MATERIALIZED (SELECT id, run_id, redo_id, superseded_by FROM generations
    WHERE wording_id IN (SELECT id FROM w) AND state IN ('answered', 'failed', 'cancelled') AND (state <> 'answered' OR outcome IS NOT NULL
      OR id IN (SELECT generation_id FROM entries))),
  p AS (SELECT id, edition_id FROM panels WHERE edition_id = $1 OR id IN (SELECT v.panel_id FROM voters v JOIN bouts o ON o.voter_id = v.id
    WHERE o.wording_id IN (SELECT id FROM w))),
  e AS (SELECT $1::uuid AS id UNION SELECT r.edition_id FROM runs r JOIN g ON g.run_id = r.id UNION SELECT edition_id FROM p
    UNION SELECT d.edition_id FROM redos d JOIN g ON d.id IN (g.redo_id, g.superseded_by))`;

const all = (table: string, where: string, order = "t.created_at, t.id", key = "t.id") =>
  `${WITH} SELECT ${key}::text AS key FROM ${table} t WHERE ${where} ORDER BY ${order}`;
const ENTRIES = "SELECT n.id FROM entries n JOIN g ON g.id = n.generation_id";
const BOUTS = `SELECT o.id FROM bouts o JOIN voters v ON v.id = o.voter_id
  WHERE o.wording_id IN (SELECT id FROM w) AND o.left_entry_id IN (${ENTRIES}) AND o.right_entry_id IN (${ENTRIES})`;

/** The keys of each table's rows. */
export const SCOPES = {
  suites: all("suites", "t.id = (SELECT suite_id FROM editions WHERE id = $1)"),
  editions: all("editions", "t.id IN (SELECT id FROM e)", "t.number"),
  wordings: all("wordings", "t.id IN (SELECT q.wording_id FROM prompts q WHERE q.edition_id IN (SELECT id FROM e))"),
  prompts: all("prompts", "t.edition_id IN (SELECT id FROM e)", "t.edition_id, t.position"),
  endpoints: all("endpoints", "$1::uuid IS NOT NULL", "t.id"),
  entrants: all("entrants", "$1::uuid IS NOT NULL"),
  entrant_versions: all("entrant_versions", "$1::uuid IS NOT NULL", "t.entrant_id, t.number"),
  redos: all("redos", "t.edition_id IN (SELECT id FROM e)"),
  runs: all("runs", "t.edition_id = $1 OR t.id IN (SELECT run_id FROM g)"),
  generations: all("generations", "t.id IN (SELECT id FROM g)"),
  attempts: all("attempts", "t.generation_id IN (SELECT id FROM g)", "t.generation_id, t.number"),
  entries: all("entries", `t.id IN (${ENTRIES})`),
  renders: all("renders", `t.entry_id IN (${ENTRIES}) AND t.state IN ('recorded', 'failed')`, "t.entry_id, t.number"),
  booth_exclusions: all("booth_exclusions", `t.entry_id IN (${ENTRIES})`, "t.entry_id", "t.entry_id"),
  score_sheets: all("score_sheets", `t.entry_id IN (${ENTRIES})`),
  panels: all("panels", "t.id IN (SELECT id FROM p)"),
  voters: all("voters", "t.panel_id IN (SELECT id FROM p)"),
  bouts: all("bouts", `t.id IN (${BOUTS})`, "t.voter_id, t.ordinal, t.id"),
  ballots: all("ballots", `t.bout_id IN (${BOUTS})`, "t.cast_at, t.id"),
  audit_trail: all(
    "audit_trail",
    "t.panel_id IN (SELECT id FROM p) OR t.voter_id IN (SELECT v.id FROM voters v JOIN p ON p.id = v.panel_id)",
    "t.id",
  ),
  standings_views: all("standings_views", "t.suite_id = (SELECT suite_id FROM editions WHERE id = $1)"),
  stopping_plans: all("stopping_plans", "t.edition_id = $1", "t.set_at, t.id"),
  standings_snapshots: all("standings_snapshots", "t.edition_id = $1", "t.taken_at, t.id"),
  rating_snapshots: "SELECT DISTINCT input_digest AS key FROM rating_snapshots WHERE edition_id = $1 ORDER BY 1",
} as const;

export const CountRow = z.object({ n: z.int() });
/** Generations and recordings on edition $1 that are under way, and stay behind. */
export const UNDER_WAY = `${WITH}
  SELECT ((SELECT count(*) FROM generations t WHERE t.wording_id IN (SELECT id FROM w) AND t.id NOT IN (SELECT id FROM g))
    + (SELECT count(*) FROM renders t WHERE t.entry_id IN (${ENTRIES}) AND t.state NOT IN ('recorded', 'failed')))::int AS n`;

export const LineRow = z.object({ line: z.string() });

/** Rows as JSON, by the keys $1 and in their order; of edition $2 where others may have rows of the same keys. */
export const selectLines = (
  { name, key, keyType, isOfEdition }: { name: string; key: string; keyType: string; isOfEdition: boolean },
  columns: readonly string[],
): string => `
  SELECT row_to_json(r)::text AS line FROM (
    SELECT ${columns.map((column) => `t.${column}`).join(", ")} FROM ${name} t
      JOIN unnest($1::${keyType}[]) WITH ORDINALITY AS k (key, place) ON t.${key} = k.key
    ${isOfEdition ? "WHERE t.edition_id = $2" : ""} ORDER BY k.place) r`;

/** Writes rows that came as JSON $1. */
export const insertLines = (table: string, columns: readonly string[]): string => `
  INSERT INTO ${table} (${columns.join(", ")}) SELECT ${columns.join(", ")} FROM json_populate_recordset(NULL::${table}, $1::json)`;

export const lockTables = (tables: readonly string[]): string =>
  `LOCK TABLE ${tables.join(", ")} IN SHARE ROW EXCLUSIVE MODE`;
