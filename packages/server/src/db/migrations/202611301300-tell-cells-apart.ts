import type { Migration } from "../migration.js";

const tell = (payload: string) => `
CREATE OR REPLACE FUNCTION tell_of_generations() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE changed generations := coalesce(NEW, OLD);
BEGIN
  PERFORM pg_notify('tourney_changes', concat_ws(' ', ${payload}));
  RETURN NULL;
END $$;`;

/** What of a cell comes, goes or gets further is told apart: entrants and editions count their cells, but not how far those have come. */
export const tellCellsApart: Migration = {
  name: "202611301300-tell-cells-apart",
  up: async ({ context, transaction }) => {
    await context.query(tell("'cells', changed.wording_id, CASE WHEN TG_OP <> 'UPDATE' THEN 'counted' END"), {
      transaction,
    });
  },
  down: async ({ context, transaction }) => {
    await context.query(tell("'cells', changed.wording_id"), { transaction });
  },
};
