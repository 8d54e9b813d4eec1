import { runMigrations } from "graphile-worker";
import type { Pool } from "pg";
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
];

/** Any number that nothing else locks: two processes that start at once must not migrate at once. */
const MIGRATION_LOCK = 7_301_140;

/** The role that the render worker connects as: it drives hostile pages, so it may touch the queue, say that it lives, and nothing else. */
const RENDER_ROLE = "tourney_render";

/** The umzug instance, for migrating up and (in tests) down again. */
export function createMigrator(sequelize: Sequelize, log: Logger) {
  return new Umzug({
    migrations: MIGRATIONS.map((migration) => ({ ...migration })),
    context: sequelize,
    storage: new SequelizeStorage({ sequelize, tableName: "migrations" }),
    logger: {
      debug: (m) => log.debug(m),
      info: (m) => log.info(m),
      warn: (m) => log.warn(m),
      error: (m) => log.error(m),
    },
  });
}

/** Brings the schema, the queue's own schema and the render worker's role up to date. */
export async function migrate(
  { sequelize, pool, log }: { sequelize: Sequelize; pool: Pool; log: Logger },
  renderRolePassword: string | null,
): Promise<void> {
  const lock = await pool.connect();
  try {
    await lock.query("SELECT pg_advisory_lock($1)", [MIGRATION_LOCK]);
    await createMigrator(sequelize, log).up();
    await runMigrations({ pgPool: pool });
    if (renderRolePassword !== null) await grantQueue(pool, renderRolePassword);
  } finally {
    await lock.query("SELECT pg_advisory_unlock($1)", [MIGRATION_LOCK]);
    lock.release();
  }
}

async function grantQueue(pool: Pool, password: string): Promise<void> {
  const { rows } = await pool.query<{ literal: string }>("SELECT quote_literal($1) AS literal", [password]);
  await pool.query(`
    DO $$ BEGIN
      IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '${RENDER_ROLE}') THEN CREATE ROLE ${RENDER_ROLE} LOGIN; END IF;
    END $$;
    ALTER ROLE ${RENDER_ROLE} PASSWORD ${rows[0]!.literal};
    REVOKE ALL ON SCHEMA public FROM PUBLIC;
    GRANT USAGE ON SCHEMA public, graphile_worker TO ${RENDER_ROLE};
    GRANT SELECT, INSERT, UPDATE, DELETE ON workers TO ${RENDER_ROLE};
    GRANT ALL ON ALL TABLES IN SCHEMA graphile_worker TO ${RENDER_ROLE};
    GRANT ALL ON ALL SEQUENCES IN SCHEMA graphile_worker TO ${RENDER_ROLE};
    GRANT ALL ON ALL FUNCTIONS IN SCHEMA graphile_worker TO ${RENDER_ROLE};`);
  // The queue's tables admit their owner only, row by row; this admits the render worker too.
  const { rows: tables } = await pool.query<{ name: string }>(
    "SELECT relname AS name FROM pg_class WHERE relnamespace = 'graphile_worker'::regnamespace AND relrowsecurity",
  );
  for (const { name } of tables) {
    await pool.query(`DROP POLICY IF EXISTS render_worker ON graphile_worker."${name}"`);
    await pool.query(
      `CREATE POLICY render_worker ON graphile_worker."${name}" TO ${RENDER_ROLE} USING (true) WITH CHECK (true)`,
    );
  }
}
