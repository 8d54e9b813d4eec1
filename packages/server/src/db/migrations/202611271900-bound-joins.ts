import type { Migration } from "../migration.js";

/**
 * How many come to a panel by its open link from one place is bounded: kept is only what tells places apart, and how many were refused.
 */
export const boundJoins: Migration = {
  name: "202611271900-bound-joins",
  up: async ({ context, transaction }) => {
    await context.query(
      `ALTER TABLE voters ADD COLUMN joined_from text;
       CREATE INDEX voters_by_place ON voters (panel_id, joined_from) WHERE joined_from IS NOT NULL;
       ALTER TABLE panels ADD COLUMN joins_refused integer NOT NULL DEFAULT 0 CHECK (joins_refused >= 0);`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("ALTER TABLE panels DROP COLUMN joins_refused; ALTER TABLE voters DROP COLUMN joined_from;", {
      transaction,
    });
  },
};
