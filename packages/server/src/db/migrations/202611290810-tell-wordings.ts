import type { Migration } from "../migration.js";

/** The wording of a changed row, whether it comes, changes or goes. */
const WORDING_OF = {
  generations: "changed.wording_id",
  entries: "(SELECT g.wording_id FROM generations g WHERE g.id = changed.generation_id)",
  renders:
    "(SELECT g.wording_id FROM entries e JOIN generations g ON g.id = e.generation_id WHERE e.id = changed.entry_id)",
} as const;
const TABLES = Object.keys(WORDING_OF) as (keyof typeof WORDING_OF)[];
const ROWS = "AFTER INSERT OR UPDATE OR DELETE";

/** A change of a cell names its wording, so that the rest of a wall need not be read again. Where it cannot be found, all may have changed. */
export const tellWordings: Migration = {
  name: "202611290810-tell-wordings",
  up: async ({ context, transaction }) => {
    await context.query(
      TABLES.map(
        (table) => `
        CREATE FUNCTION tell_of_${table}() RETURNS trigger LANGUAGE plpgsql AS $$
        DECLARE changed ${table} := coalesce(NEW, OLD);
        BEGIN
          PERFORM pg_notify('tourney_changes', concat_ws(' ', 'cells', ${WORDING_OF[table]}));
          RETURN NULL;
        END $$;
        DROP TRIGGER tell_of_change ON ${table};
        CREATE TRIGGER tell_of_change ${ROWS} ON ${table} FOR EACH ROW EXECUTE FUNCTION tell_of_${table}();`,
      ).join("\n"),
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query(
      TABLES.map(
        (table) => `
        DROP TRIGGER tell_of_change ON ${table};
        CREATE TRIGGER tell_of_change ${ROWS} ON ${table} FOR EACH ROW EXECUTE FUNCTION tell_of_change();
        DROP FUNCTION tell_of_${table}();`,
      ).join("\n"),
      { transaction },
    );
  },
};
