import { TourneyError } from "@tourney/core/errors";
import { runMigrations } from "graphile-worker";
import { escapeIdentifier, escapeLiteral, type Pool } from "pg";
import type { Logger } from "pino";
import type { Sequelize } from "sequelize";
import { SequelizeStorage, Umzug } from "umzug";
import type { Migration } from "./migration.js";
import { createTables } from "./migrations/202611250900-create-tables.js";
import { deepenRuns } from "./migrations/202611251000-deepen-runs.js";
import { knowWorkers } from "./migrations/202611251500-know-workers.js";
import { countBallots } from "./migrations/202611252000-count-ballots.js";
import { deepenVoting } from "./migrations/202611260000-deepen-voting.js";
import { countTogether } from "./migrations/202611260600-count-together.js";
import { identifyVersions } from "./migrations/202611270800-identify-versions.js";
import { shareWordings } from "./migrations/202611270810-share-wordings.js";
import { redoTakes } from "./migrations/202611270820-redo-takes.js";
import { countByWording } from "./migrations/202611270830-count-by-wording.js";
import { boundJoins } from "./migrations/202611271900-bound-joins.js";
import { partCircuits } from "./migrations/202611271910-part-circuits.js";
import { keepScoreSheets } from "./migrations/202611280100-keep-score-sheets.js";
import { searchTexts } from "./migrations/202611280500-search-texts.js";
import { tellOfChanges } from "./migrations/202611280700-tell-of-changes.js";
import { knowWhatShowsNothing } from "./migrations/202611281000-know-what-shows-nothing.js";
import { linkReports } from "./migrations/202611281130-link-reports.js";
import { keepWhatWasSeenWith } from "./migrations/202611281540-keep-what-was-seen-with.js";
import { letScriptsIn } from "./migrations/202611281410-let-scripts-in.js";
import { holdContests } from "./migrations/202611281700-hold-contests.js";
import { planToStop } from "./migrations/202611281730-plan-to-stop.js";
import { bindKeys } from "./migrations/202611282100-bind-keys.js";
import { keepStagePages } from "./migrations/202611282200-keep-stage-pages.js";
import { knowChangedVoters } from "./migrations/202611282300-know-changed-voters.js";
import { tellBallotsApart } from "./migrations/202611282310-tell-ballots-apart.js";
import { countByVoter } from "./migrations/202611290500-count-by-voter.js";
import { findRecordings } from "./migrations/202611290530-find-recordings.js";
import { knowRecordings } from "./migrations/202611290800-know-recordings.js";
import { tellWordings } from "./migrations/202611290810-tell-wordings.js";
import { findGenerations } from "./migrations/202611290900-find-generations.js";
import { knowLikenesses } from "./migrations/202611291300-know-likenesses.js";
import { findWords } from "./migrations/202611300600-find-words.js";
import { tellOfEndpoints } from "./migrations/202611300610-tell-of-endpoints.js";
import { tellCellsApart } from "./migrations/202611301300-tell-cells-apart.js";
import { copyLeans } from "./migrations/202612010800-copy-leans.js";
import { tallyOutcomes } from "./migrations/202612011400-tally-outcomes.js";
import { findBouts } from "./migrations/202611282320-find-bouts.js";
import { keepSnapshots } from "./migrations/202611281510-keep-snapshots.js";
import { keepViews } from "./migrations/202611281010-keep-views.js";

/** In order. A migration that has been released is never changed; the next one corrects it. */
const MIGRATIONS: Migration[] = [
  createTables,
  deepenRuns,
  knowWorkers,
  countBallots,
  deepenVoting,
  countTogether,
  identifyVersions,
  shareWordings,
  redoTakes,
  countByWording,
  boundJoins,
  partCircuits,
  keepScoreSheets,
  searchTexts,
  tellOfChanges,
  knowWhatShowsNothing,
  keepViews,
  linkReports,
  letScriptsIn,
  keepSnapshots,
  keepWhatWasSeenWith,
  holdContests,
  planToStop,
  bindKeys,
  keepStagePages,
  knowChangedVoters,
  tellBallotsApart,
  findBouts,
  countByVoter,
  findRecordings,
  knowRecordings,
  tellWordings,
  findGenerations,
  knowLikenesses,
  findWords,
  tellOfEndpoints,
  tellCellsApart,
  copyLeans,
  tallyOutcomes,
];

/** Any number that nothing else locks: two processes that start at once must not migrate at once. */
const MIGRATION_LOCK = 7_301_140;

const openStorage = (sequelize: Sequelize) => new SequelizeStorage({ sequelize, tableName: "migrations" });

/** Makes a change and writes it down in one transaction: whoever dies in between leaves neither. */
const inOne = (sequelize: Sequelize, change: Migration["up"], note: string, name: string): Promise<void> =>
  sequelize.transaction(async (transaction) => {
    await change({ context: sequelize, transaction });
    await sequelize.query(note, { bind: [name], transaction });
  });

/** The umzug instance, for migrating up and (in tests) down again. */
export function createMigrator(sequelize: Sequelize, log: Logger) {
  return new Umzug({
    migrations: MIGRATIONS.map(({ name, up, down }) => ({
      name,
      up: () => inOne(sequelize, up, "INSERT INTO migrations (name) VALUES ($1)", name),
      down: () => inOne(sequelize, down, "DELETE FROM migrations WHERE name = $1", name),
    })),
    context: sequelize,
    storage: {
      executed: () => openStorage(sequelize).executed(),
      // Written down with the change itself.
      logMigration: () => Promise.resolve(),
      unlogMigration: () => Promise.resolve(),
    },
    logger: {
      debug: (m) => log.debug(m),
      info: (m) => log.info(m),
      warn: (m) => log.warn(m),
      error: (m) => log.error(m),
    },
  });
}

/** What a newer Tourney has made of the database would be misread here, and written to wrongly. */
async function refuseNewer(sequelize: Sequelize): Promise<void> {
  const known = new Set(MIGRATIONS.map(({ name }) => name));
  const unknown = (await openStorage(sequelize).executed()).filter((name) => !known.has(name));
  if (unknown.length === 0) return;
  throw new TourneyError("SETUP_FAILED", {
    message: `The database ${sequelize.config.database} was changed by a newer Tourney.`,
    reason: `It has ${unknown.join(", ")}, which this one does not know.`,
    remedy: "Start the newer Tourney, or name another database. Nothing was changed.",
  });
}

/** For programs that only join in: @throws TourneyError SETUP_FAILED unless the schema is exactly the one that this code knows. */
export async function requireSchema(sequelize: Sequelize, log: Logger): Promise<void> {
  await refuseNewer(sequelize);
  const pending = await createMigrator(sequelize, log).pending();
  if (pending.length === 0) return;
  throw new TourneyError("SETUP_FAILED", {
    message: `The database ${sequelize.config.database} is not up to date.`,
    reason: `It lacks ${pending.map(({ name }) => name).join(", ")}, which the server brings in when it starts.`,
    remedy: "Start Tourney's server of this version on it first. Nothing was changed.",
  });
}

/** Brings the schema, the queue's own schema and the render worker's role up to date. @throws TourneyError SETUP_FAILED */
export async function migrate(
  { sequelize, pool, log }: { sequelize: Sequelize; pool: Pool; log: Logger },
  renderRole: { name: string; password: string } | null,
): Promise<void> {
  const lock = await pool.connect();
  try {
    await lock.query("SELECT pg_advisory_lock($1)", [MIGRATION_LOCK]);
    await refuseNewer(sequelize);
    await createMigrator(sequelize, log).up();
    await runMigrations({ pgPool: pool });
    if (renderRole !== null) await grantQueue(pool, renderRole);
  } finally {
    await lock.query("SELECT pg_advisory_unlock($1)", [MIGRATION_LOCK]);
    lock.release();
  }
}

/** Makes the role that the render worker connects as: it drives hostile pages, so it may touch the queue, say that it lives, and nothing else. */
async function grantQueue(pool: Pool, { name, password }: { name: string; password: string }): Promise<void> {
  const role = escapeIdentifier(name);
  const { rows: present } = await pool.query("SELECT FROM pg_roles WHERE rolname = $1", [name]);
  try {
    await pool.query(
      `${present.length === 0 ? "CREATE" : "ALTER"} ROLE ${role} LOGIN PASSWORD ${escapeLiteral(password)}`,
    );
  } catch (cause) {
    throw new TourneyError("SETUP_FAILED", {
      message: `The role ${name} for the render worker cannot be ${present.length === 0 ? "made" : "given its password"}.`,
      reason: cause instanceof Error ? `${cause.message}.` : String(cause),
      remedy: "Let the database's user make roles (ALTER ROLE … CREATEROLE), then start again.",
      cause,
    });
  }
  await pool.query(`
    REVOKE ALL ON SCHEMA public FROM PUBLIC;
    GRANT USAGE ON SCHEMA public, graphile_worker TO ${role};
    GRANT SELECT, INSERT, UPDATE, DELETE ON workers TO ${role};
    GRANT ALL ON ALL TABLES IN SCHEMA graphile_worker TO ${role};
    GRANT ALL ON ALL SEQUENCES IN SCHEMA graphile_worker TO ${role};
    GRANT ALL ON ALL FUNCTIONS IN SCHEMA graphile_worker TO ${role};`);
  // The queue's tables admit their owner only, row by row; this admits the render worker too.
  const { rows: tables } = await pool.query<{ name: string }>(
    "SELECT relname AS name FROM pg_class WHERE relnamespace = 'graphile_worker'::regnamespace AND relrowsecurity",
  );
  for (const table of tables) {
    await pool.query(`DROP POLICY IF EXISTS render_worker ON graphile_worker."${table.name}"`);
    await pool.query(
      `CREATE POLICY render_worker ON graphile_worker."${table.name}" TO ${role} USING (true) WITH CHECK (true)`,
    );
  }
}
