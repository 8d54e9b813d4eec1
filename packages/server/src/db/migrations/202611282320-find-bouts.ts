import type { Migration } from "../migration.js";

/**
 * What a voter's turn looks for, found without going through all bouts and ballots: ballots of a bout whether they count or not, and bouts that were issued
 * lately.
 */
export const findBouts: Migration = {
  name: "202611282320-find-bouts",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE INDEX ballots_of_bouts ON ballots (bout_id);
       CREATE INDEX bouts_lately ON bouts (issued_at);`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP INDEX ballots_of_bouts, bouts_lately", { transaction });
  },
};
