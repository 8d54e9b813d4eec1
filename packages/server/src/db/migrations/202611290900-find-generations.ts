import type { Migration } from "../migration.js";

/** Answers to a wording, also those that were set aside, and entries that were mended by hand are found without going through all. */
export const findGenerations: Migration = {
  name: "202611290900-find-generations",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE INDEX generations_by_wording ON generations (wording_id);
       CREATE INDEX entries_by_generation ON entries (generation_id);`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP INDEX generations_by_wording, entries_by_generation", {
      transaction,
    });
  },
};
