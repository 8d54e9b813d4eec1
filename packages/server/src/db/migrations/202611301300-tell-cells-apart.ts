import type { Migration } from "../migration.js";

const tell = (payload: string) => `
CREATE OR REPLACE FUNCTION tell_of_generations() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE changed generations := coalesce(NEW, OLD);
BEGIN
  PERFORM pg_notify('tourney_changes', concat_ws(' ', ${payload}));
  RETURN NULL;
END $$;`;

/** The database tells whether an answer was added or removed, or only got further: entrants and editions count their answers, not how far those are. */
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
