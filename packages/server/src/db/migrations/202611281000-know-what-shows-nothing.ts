import type { Migration } from "../migration.js";

/**
 * Whether a recording shows nothing stands beside it: recordings are large, and the booth and the standings ask this of all entries at once. A finding that follows
 * from another is not one of its own.
 */
export const knowWhatShowsNothing: Migration = {
  name: "202611281000-know-what-shows-nothing",
  up: async ({ context, transaction }) => {
    await context.query(
      `ALTER TABLE renders ADD COLUMN shows_nothing boolean GENERATED ALWAYS AS (
         recording->>'outcome' IN ('crashed', 'hung', 'memory', 'failed')
         OR recording @? '$.findings[*] ? ((@.rule == "blank" || @.rule == "crashed" || @.rule == "hung") && (!exists(@.followsFrom) || @.followsFrom == null))'
       ) STORED;`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("ALTER TABLE renders DROP COLUMN shows_nothing;", { transaction });
  },
};
