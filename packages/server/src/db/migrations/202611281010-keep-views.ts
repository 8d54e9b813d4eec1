import type { Migration } from "../migration.js";

/** What counts in standings can be given a name. It belongs to the suite: every edition of it can be looked at so. */
export const keepViews: Migration = {
  name: "202611281010-keep-views",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE standings_views (
         id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
         suite_id uuid NOT NULL REFERENCES suites(id),
         name text NOT NULL,
         counts jsonb NOT NULL,
         created_at timestamptz NOT NULL DEFAULT now(),
         UNIQUE (suite_id, name)
       );`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE standings_views;", { transaction });
  },
};
