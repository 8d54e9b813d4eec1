import type { Migration } from "../migration.js";

/** What is read again and again by open pages: what the wall, the course of the job and the standings are made of. */
const TABLES = [
  ...["suites", "editions", "prompts", "wordings", "entrants", "entrant_versions", "runs"],
  ...["generations", "entries", "renders", "redos", "booth_exclusions", "voters", "ballots"],
];

/**
 * Every change is told when it is committed, so that what was read before is known to hold or not. One notification a transaction: equal ones are
 * folded by the database.
 */
export const tellOfChanges: Migration = {
  name: "202611280700-tell-of-changes",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE FUNCTION tell_of_change() RETURNS trigger LANGUAGE plpgsql AS $$
       BEGIN
         PERFORM pg_notify('tourney_changes', '');
         RETURN NULL;
       END $$;
       ${TABLES.map((table) => `CREATE TRIGGER tell_of_change AFTER INSERT OR UPDATE OR DELETE ON ${table} FOR EACH ROW EXECUTE FUNCTION tell_of_change();`).join("\n")}`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query(
      `${TABLES.map((table) => `DROP TRIGGER tell_of_change ON ${table};`).join("\n")} DROP FUNCTION tell_of_change();`,
      { transaction },
    );
  },
};
