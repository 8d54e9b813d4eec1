import type { Migration } from "../migration.js";

/** A report can be read by people who are no leads, by a link that can be withdrawn. */
export const linkReports: Migration = {
  name: "202611281130-link-reports",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE report_links (
         id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
         edition_id uuid NOT NULL REFERENCES editions(id),
         token text NOT NULL UNIQUE,
         counts jsonb NOT NULL,
         created_at timestamptz NOT NULL DEFAULT now(),
         withdrawn_at timestamptz
       );
       CREATE INDEX report_links_by_edition ON report_links (edition_id);`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE report_links;", { transaction });
  },
};
